import type { Plate, ShotDocument } from '@/core/shot/document';
import { Problem } from '../http/problem';

/** @throws Problem 404 where the shot has no such plate */
export function plateOf(document: ShotDocument, id: string): Plate {
  const plate = document.plates.find((p) => p.id === id);
  if (!plate) throw Problem.notFound('This plate');
  return plate;
}

/** @throws Problem `plate-locked` with the plate's name */
export function requireUnlocked(plate: Plate): void {
  if (plate.locked) throw new Problem(422, 'plate-locked', `${plate.name} is locked, so nothing was changed. Unlock it on its card first.`);
}
