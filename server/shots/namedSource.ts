import { z } from 'zod';
import type { ShotDocument } from '@/core/shot/document';
import { Problem } from '../http/problem';
import type { ShotState } from './history';

/**
 * The shot's source, where it is the picture that an address names; of footage the frame that it names. @throws Problem
 * 404 for a picture that the shot has no more, or never had
 */
export function namedSource(url: string, { document: { source, footage } }: ShotState): ShotDocument['source'] {
  const query = new URL(url).searchParams;
  const media = z.uuid().parse(query.get('media'));
  if (media !== source.mediaId) throw Problem.notFound('This picture of the shot');
  const asked = query.get('frame');
  if (asked === null || !footage) return source;
  const moment = z.coerce.number().int().min(0).parse(asked);
  if (moment >= footage.frames) throw Problem.notFound(`Frame ${moment + 1} of the shot`);
  return { ...source, moment };
}
