import { z } from 'zod';
import type { ShotDocument } from '@/core/shot/document';
import { Problem } from '../http/problem';
import type { ShotState } from './history';

/**
 * The shot's source, where it is the picture that an address names. @throws Problem 404 for a picture that the shot
 * has no more, or never had
 */
export function namedSource(url: string, { document: { source } }: ShotState): ShotDocument['source'] {
  const media = z.uuid().parse(new URL(url).searchParams.get('media'));
  if (media !== source.mediaId) throw Problem.notFound('This picture of the shot');
  return source;
}
