import { CoreError } from '@/core/error';
import { plateName } from '@/core/shot/carriedNames';
import { plateAtMoment, plateKeyAt } from '@/core/shot/plateAtMoment';
import type { Plate, PlateKey, ShotDocument } from '@/core/shot/document';
import { Problem } from '../http/problem';
import { inThread } from '../threads/pool';
import { carriedIsThere } from './carriedRasters';
import { footageOf, requireFrame } from './footageOf';
import { changeShot, documentOf, type ShotAt, type ShotState } from './history';
import { plateOf, requireUnlocked } from './plateList';

/** What can be done about a plate's key at a frame: what is carried there becomes one; it goes; the plate is not to be seen. */
export const PLATE_KEY_ACTIONS = ['set', 'drop', 'gone'] as const;
export type PlateKeyAction = (typeof PLATE_KEY_ACTIONS)[number];

/** Changes a plate's keys at a frame. @throws Problem `key-there`, `no-key`, `last-key`, `not-carried`, `plate-locked` */
export async function keyPlate(at: ShotAt, id: string, action: PlateKeyAction): Promise<ShotState> {
  const moment = at.moment ?? 0;
  const document = await documentOf(at);
  const { footage } = footageOf({ document });
  requireFrame(footage, moment);
  const plate = cutPlate(document, id);
  const called = `${plate.name} at frame ${moment + 1}`;
  switch (action) {
    case 'set': {
      const key = await keyOfCarried(document, plate, moment);
      return changeKeys(at, id, `Key of ${called}`, (keys) => [...keys, key]);
    }
    case 'drop':
      return changeKeys(at, id, `No key of ${called}`, (keys) => {
        if (!keys.some(({ frame }) => frame === moment)) throw new CoreError('no-key', `${called} has no key.`);
        if (keys.length === 1)
          throw new Problem(422, 'last-key', `${called} has its only key: all frames are carried from it.`);
        return keys.filter(({ frame }) => frame !== moment);
      });
    case 'gone':
      return changeKeys(at, id, `${plate.name} is not seen at frame ${moment + 1}`, (keys) => {
        const { depth } = plateAtMoment(plate, document.source.mediaId, moment, () => false);
        const others = keys.filter(({ frame }) => frame !== moment);
        if (!others.some(({ matte }) => matte !== null))
          throw new Problem(422, 'last-key', `${plate.name} is cut at no other frame: it would be seen nowhere.`);
        const { near, far } = depth;
        return [...others, { frame: moment, matte: null, choice: null, depth: { revision: null, near, far } }];
      });
  }
}

/** @throws Problem `not-cut` for a plate that is only planned, or brought in */
function cutPlate(document: ShotDocument, id: string): Plate {
  const plate = plateOf(document, id);
  requireUnlocked(plate);
  if (plate.keys.length === 0)
    throw new Problem(422, 'not-cut', `${plate.name} is cut at no frame yet, so it has no keys.`);
  return plate;
}

/** @throws Problem `not-carried` while nothing is carried to a frame */
async function keyOfCarried({ source }: ShotDocument, plate: Plate, moment: number): Promise<PlateKey> {
  if (plateKeyAt(plate, moment))
    throw new Problem(422, 'key-there', `${plate.name} has a key at frame ${moment + 1} already.`);
  const name = plateName(source.mediaId, plate, moment);
  if (!carriedIsThere(name))
    throw new Problem(
      422,
      'not-carried',
      `${plate.name} is not carried to frame ${moment + 1} yet. Carry it, or cut it there.`,
    );
  const made = await inThread('storePlate', { name, source });
  const { near, far } = plateAtMoment(plate, source.mediaId, moment, carriedIsThere).depth;
  return { frame: moment, matte: made.matte, choice: made.choice, depth: { revision: made.depth, near, far } };
}

function changeKeys(
  at: ShotAt,
  id: string,
  label: string,
  change: (keys: readonly PlateKey[]) => readonly PlateKey[],
): Promise<ShotState> {
  const moment = at.moment ?? 0;
  return changeShot(at, label, (_em, document) => {
    cutPlate(document, id);
    const plates = document.plates.map((plate): Plate => {
      if (plate.id !== id) return plate;
      const keys = [...change(plate.keys)].sort((a, b) => a.frame - b.frame);
      return plateAtMoment({ ...plate, keys }, document.source.mediaId, moment, () => false);
    });
    return Promise.resolve({ ...document, plates });
  });
}
