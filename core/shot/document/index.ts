export * from './camera';
export * from './marks';
export * from './move';
export * from './patch';
export * from './plate';
export * from './shotDocument';
export * from './source';
export * from './stroke';
export { budgetSchema, viewingSchema } from './stereo';
