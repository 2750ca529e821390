import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { interlaceRows } from '@/core/lenticular/interlace';
import { planSheet } from '@/core/lenticular/pitch';
import { pythonJson } from './python';
import { cpuMs, ms, row, section, times } from './report';

const root = join(__dirname, '..');

/**
 * An A4 sheet, 720 dpi, 24 views: the interlacing alone against copying its bytes, and the whole command with its peak
 * memory.
 */
export function benchSheet(): void {
  const dir = mkdtempSync(join(tmpdir(), 'cork-bench-'));
  try {
    const peer = pythonJson<{ interlace: number; copy: number; peakMb: number }>("exec(open('peers/sheet.py').read())");
    const viewWidth = 1488;
    const viewHeight = 2105;
    const views = 24;
    const plan = planSheet({ widthMm: 210, lpi: 60.13, dpi: 720, views, viewWidth, viewHeight });
    const view = new Uint8Array(viewWidth * viewHeight * 3).map((_, i) => (i * 7919) & 255);
    const page = new Uint8Array(plan.columns * 3);
    const rows = cpuMs(() => {
      for (const line of interlaceRows(plan, (_, y, into) => {
        into.set(view.subarray(y * viewWidth * 3, (y + 1) * viewWidth * 3));
      }))
        page.set(line);
    }, 3);
    const ran = pythonJson<{ peakMb: number; seconds: number; status: number; copySeconds: number }>(
      `
import cv2, numpy as np, subprocess, resource, json, sys, time
d, root = sys.argv[1:3]
import os
os.makedirs(d + '/views')
rng = np.random.default_rng(1)
for v in range(24):
    a = rng.integers(0, 256, (2105, 1488, 3), np.uint8)
    cv2.imwrite(f'{d}/views/view_{v + 1:03d}.png', cv2.GaussianBlur(a, (9, 9), 2))
subprocess.run(['bash', root + '/bin/cork-twin', '--help'], stdout=subprocess.DEVNULL)
t = time.time()
words = ['--lpi', '60.13', '--dpi', '720', '--width-mm', '210', '--out', d + '/sheet.tif']
p = subprocess.run(['node', root + '/.build/cli.mjs', 'sheet', '--views', d + '/views', *words])
s = time.time() - t
peak = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
t = time.time(); subprocess.run(['cp', d + '/sheet.tif', d + '/copy.tif']); os.sync(); c = time.time() - t
print(json.dumps({'peakMb': peak, 'seconds': s, 'status': p.returncode, 'copySeconds': c}))`,
      [dir, root],
    );
    if (ran.status !== 0) throw new Error('cork-twin sheet failed');
    const header = readFileSync(join(dir, 'sheet.tif')).subarray(0, 2).toString('latin1');
    if (header !== 'II') throw new Error('the sheet is no TIFF');
    section(
      `A4 sheet, 720 dpi, 24 views of ${viewWidth} x ${viewHeight} px: ` +
        `${plan.columns} x ${plan.rows} px, ${((plan.columns * plan.rows * 3) / 1e6).toFixed(0)} MB`,
    );
    row('Cork Twin, interlacing by rows with all reads', ms(rows));
    row('numpy fancy indexing', ms(peer.interlace * 1000));
    row('copying the sheet’s bytes in memory', ms(peer.copy * 1000));
    row('time as a multiple of copying the bytes', times(rows / 1000 / peer.copy), {
      text: 'at most 10 x',
      met: rows / 1000 / peer.copy <= 10,
    });
    row('the whole command, 24 PNG decoded, TIFF written', ms(ran.seconds * 1000));
    row('  copying the TIFF on disk', ms(ran.copySeconds * 1000));
    row('  peak memory', `${ran.peakMb.toFixed(0)} MB`, { text: 'under 200 MB', met: ran.peakMb < 200 });
  } finally {
    rmSync(dir, { recursive: true });
  }
}
