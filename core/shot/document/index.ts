export * from './patch';
export * from './plate';
export * from './shotDocument';
export * from './source';
export { budgetSchema, viewingSchema } from './stereo';
