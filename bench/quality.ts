import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pythonJson } from './python';
import { row, section } from './report';

const root = join(__dirname, '..');
const ALOE = '/usr/share/doc/opencv-doc/examples/data';
const dB = (v: number): string => `${v.toFixed(2)} dB`;

function views(...words: string[]): void {
  const ran = spawnSync('bash', [join(root, 'bin/cork-twin'), 'views', ...words], { encoding: 'utf8' });
  if (ran.status !== 0) throw new Error(ran.stderr);
}

/** Views against the true other eye: the Aloe pair (scored as in bench/peers/warp.py) and the ray-traced demo. */
export function benchQuality(): void {
  const dir = mkdtempSync(join(tmpdir(), 'cork-bench-'));
  try {
    views(
      '--picture',
      `${ALOE}/aloeL.jpg`,
      '--depth',
      `${ALOE}/aloeGT.png`,
      '--near',
      '-255',
      '--far',
      '0',
      '--source-eye',
      'left',
      '--out',
      join(dir, 'aloe'),
    );
    views(
      '--picture',
      join(root, 'demo/orangery/centre.png'),
      '--depth',
      join(root, 'demo/orangery/depth16.png'),
      '--near',
      '-52.5',
      '--far',
      '0',
      '--out',
      join(dir, 'demo'),
    );
    const score = pythonJson<Record<string, number>>(
      `
import sys, json, numpy as np
sys.path.insert(0, 'peers'); out, root = sys.argv[1:3]; sys.argv = ['x']
import cv2, warp
L, R, D, v, ins = warp.aloe()
a = warp.score(cv2.imread(out + '/aloe/right.png'), R, v, ins); b = warp.score(warp.remap(L, D), R, v, ins)
C = cv2.imread(root + '/demo/orangery/centre.png'); d = cv2.imread(root + '/demo/orangery/depth16.png', -1).astype(np.float32) / 65535 * 26.25
T = cv2.imread(root + '/tests/data/orangery/right.png')
P = lambda x: float(10 * np.log10(65025 / ((x.astype(np.float64) - T) ** 2).mean()))
print(json.dumps({'vis': float(a['psnr_vis']), 'hole': float(a['psnr_hole']), 'all': float(a['psnr_all']), 'peerVis': float(b['psnr_vis']), 'peerAll': float(b['psnr_all']), 'demo': P(cv2.imread(out + '/demo/right.png')), 'peerDemo': P(warp.remap(C, d))}))`,
      [dir, root],
    );
    section('Right view against the true one, PSNR');
    row('Aloe, pixels that both cameras see', dB(score.vis), { text: 'at least 29.5', met: score.vis >= 29.5 });
    row('Aloe, pixels that only the right camera sees', dB(score.hole));
    row('Aloe, all known pixels', dB(score.all), { text: 'at least 25.4', met: score.all >= 25.4 });
    row('  OpenCV remap, seen by both / all', `${score.peerVis.toFixed(2)} / ${dB(score.peerAll)}`);
    row('orangery, all pixels', dB(score.demo));
    row('  OpenCV remap', dB(score.peerDemo));
    row('  better by', dB(score.demo - score.peerDemo), { text: 'at least 1', met: score.demo - score.peerDemo >= 1 });
  } finally {
    rmSync(dir, { recursive: true });
  }
}
