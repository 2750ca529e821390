import type { Plate } from './document';

/** True for a plate that lies otherwise in every frame of a film: one that was cut from it. */
export const isCarriedPlate = ({ piece, keys }: Pick<Plate, 'piece' | 'keys'>): boolean => !piece && keys.length > 0;
