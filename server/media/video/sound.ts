import { execFile } from 'node:child_process';
import { rename, rm } from 'node:fs/promises';
import { promisify } from 'node:util';
import { CoreError } from '@/core/error';
import type { VideoFormat } from '@/core/recipes';

const run = promisify(execFile);

/** Sound that goes with a part of a film. */
export interface SoundPart {
  /** The file that it is in. */
  readonly path: string;
  readonly codec: string;
  /** Where the part begins and how long it is, seconds. */
  readonly from: number;
  readonly seconds: number;
}

/** What may lie in a file as it came; else it is coded anew. */
const AS_IT_CAME: Readonly<Record<VideoFormat, readonly string[]>> = {
  mp4: ['aac', 'mp3', 'ac3', 'alac'],
  webm: ['opus', 'vorbis'],
  gif: [],
};

/**
 * Lays sound under a video, as it came where the file's kind can hold it. The pictures stay as they are. @throws
 * CoreError `no-sound`
 */
export async function layUnderSound(video: string, format: VideoFormat, sound: SoundPart): Promise<void> {
  if (format === 'gif') return;
  const { path, codec, from, seconds } = sound;
  const coded = AS_IT_CAME[format].includes(codec)
    ? ['-c:a', 'copy']
    : ['-c:a', format === 'mp4' ? 'aac' : 'libopus', '-b:a', '192k'];
  const part = `${video}.sound.part`;
  const box = format === 'mp4' ? ['-movflags', '+faststart', '-f', 'mp4'] : ['-f', 'webm'];
  try {
    await run('ffmpeg', [
      ...['-v', 'error', '-y', '-i', video, '-ss', from.toFixed(6), '-t', seconds.toFixed(6), '-i', path],
      ...['-map', '0:v:0', '-map', '1:a:0', '-c:v', 'copy', ...coded, '-map_metadata', '0', ...box, part],
    ]);
    await rename(part, video);
  } catch (error) {
    throw new CoreError(
      'no-sound',
      `The sound could not be laid under it: ${(error as Error).message.split('\n')[1] ?? 'FFmpeg ended'}.`,
    );
  } finally {
    await rm(part, { force: true });
  }
}
