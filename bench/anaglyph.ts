import { spawnSync } from 'node:child_process';
import { anaglyph } from '@/core/packing/anaglyph';
import { cpuMs, ms, row, section, times } from './report';

/** CPU ms a frame of an FFmpeg filter on 1920 x 1080 pairs, the same run without it taken off. */
function ffmpegMs(filter: string, frames = 100): number {
  let best = Infinity;
  for (let n = 0; n < 3; n++) {
    const { stderr } = spawnSync(
      'taskset',
      [
        '-c',
        '1',
        'ffmpeg',
        '-hide_banner',
        '-benchmark',
        '-filter_threads',
        '1',
        '-threads',
        '1',
        '-f',
        'lavfi',
        '-i',
        'nullsrc=s=3840x1080:r=25,format=rgb24',
        '-frames:v',
        String(frames),
        '-vf',
        filter,
        '-f',
        'null',
        '-',
      ],
      { encoding: 'utf8' },
    );
    const said = /utime=([\d.]+)s stime=([\d.]+)s/.exec(stderr);
    if (!said) throw new Error(`FFmpeg did not say what it took: ${stderr.slice(-300)}`);
    best = Math.min(best, Number(said[1]) + Number(said[2]));
  }
  return (best * 1000) / frames;
}

/** Least-squares anaglyph at 1080p against FFmpeg's stereo3d filter; tests/outside/packing.test.ts holds both to 1 of 255. */
export function benchAnaglyph(): void {
  const size = { width: 1920, height: 1080 };
  const fill = (seed: number) => ({
    ...size,
    bits: 8 as const,
    alpha: 'straight' as const,
    data: Uint8Array.from({ length: 1920 * 1080 * 4 }, (_, i) => (i % 4 === 3 ? 255 : (i * seed) & 255)),
  });
  const left = fill(31);
  const right = fill(17);
  const out = new Uint8Array(left.data.length);
  const ours = cpuMs(() => anaglyph(left, right, 'red-cyan-least-squares', out));
  const theirs = ffmpegMs('stereo3d=sbsl:arcd') - ffmpegMs('null');
  section('Anaglyph, least squares, 1920 x 1080, CPU time on one core');
  row('Cork Twin', ms(ours));
  row('FFmpeg stereo3d (sbsl:arcd), its run without the filter taken off', ms(theirs));
  row('time as a share of FFmpeg’s', times(ours / theirs), { text: 'at most 1 x', met: ours <= theirs });
}
