import { PLATES, type Plate, type ShotDocument } from '@/core/shot/document';
import { Problem } from '../http/problem';

/** @throws Problem 404 where the shot has no such plate */
export function plateOf(document: Pick<ShotDocument, 'plates'>, id: string): Plate {
  const plate = document.plates.find((p) => p.id === id);
  if (!plate) throw Problem.notFound('This plate');
  return plate;
}

/** @throws Problem `plate-locked` with the plate's name */
export function requireUnlocked(plate: Plate): void {
  if (plate.locked)
    throw new Problem(
      422,
      'plate-locked',
      `${plate.name} is locked, so nothing was changed. Unlock it on its card first.`,
    );
}

/** @throws Problem `brought-in` for a plate that is whole */
export function requireCut(plate: Plate): void {
  if (plate.piece)
    throw new Problem(
      422,
      'brought-in',
      `${plate.name} was brought in: it is whole, and not filled or painted on here.`,
    );
}

/** The shot's plates, where there is room for `more`. @throws Problem `too-many-plates` */
export function withRoom(document: Pick<ShotDocument, 'plates'>, more = 1): readonly Plate[] {
  if (document.plates.length + more > PLATES)
    throw new Problem(
      422,
      'too-many-plates',
      `A shot has at most ${PLATES} plates. Remove one before you begin another.`,
    );
  return document.plates;
}
