import type { Footage, ShotDocument } from '@/core/shot/document';
import { footagePath, storedFootage } from '../media/footage/openFootage';
import type { SoundPart } from '../media/video/sound';

/** What is heard of some frames of footage that has sound. */
export async function soundOf(
  source: ShotDocument['source'],
  { rate, sound }: Footage,
  { first, last }: { readonly first: number; readonly last: number },
): Promise<SoundPart> {
  await storedFootage(source);
  const step = rate.denominator / rate.numerator;
  return {
    path: footagePath(source.mediaId),
    codec: sound!.codec,
    from: first * step,
    seconds: (last - first + 1) * step,
  };
}
