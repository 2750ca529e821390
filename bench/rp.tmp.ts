import sharp from 'sharp';
import { RegionPaint } from '@/core/matte/regionPaint';
async function main() {
  const { data, info } = await sharp('demo/orangery/centre.png').ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  const picture = { width: info.width, height: info.height, data: new Uint8Array(data) };
  const truth = await sharp('../shared/demo/orangery/matte_fg.png').extractChannel(0).raw().toBuffer();
  const strokes = { width: info.width, height: info.height, data: new Uint8Array(info.width * info.height) };
  const line = (x0: number, y0: number, x1: number, y1: number, r: number, v: number) => { for (let t = 0; t <= 400; t++) { const x = Math.round(x0 + (x1 - x0) * t / 400), y = Math.round(y0 + (y1 - y0) * t / 400); for (let b = -r; b <= r; b++) for (let a = -r; a <= r; a++) if (a * a + b * b <= r * r) strokes.data[(y + b) * info.width + x + a] = v; } };
  line(280, 380, 520, 380, 8, 1); line(400, 250, 420, 540, 8, 1); line(330, 820, 480, 820, 8, 1);
  line(100, 100, 1500, 100, 8, 2); line(700, 300, 720, 900, 8, 2); line(60, 300, 100, 900, 8, 2);
  let t = performance.now(); const paint = new RegionPaint(picture); console.log('prepare', (performance.now() - t).toFixed(0));
  for (let n = 0; n < 3; n++) { t = performance.now(); const m = paint.solve(strokes); console.log('solve', (performance.now() - t).toFixed(0)); if (n === 2) { let sad = 0, inter = 0, uni = 0; for (let i = 0; i < truth.length; i++) { sad += Math.abs(truth[i] - m.data[i]) / 255; const a = truth[i] > 127, b = m.data[i] > 127; if (a && b) inter++; if (a || b) uni++; } console.log('SAD', sad.toFixed(0), 'IoU', (inter / uni).toFixed(4), uni);
    await sharp(m.data as Uint8Array, { raw: { width: info.width, height: info.height, channels: 1 } }).png().toFile('/tmp/shots/rp.png'); const s = Buffer.alloc(info.width * info.height * 4); strokes.data.forEach((v, i) => { if (v) { s.fill(v === 1 ? 255 : 0, i * 4, i * 4 + 3); s[i * 4 + 3] = 255; } }); await sharp(s, { raw: { width: info.width, height: info.height, channels: 4 } }).png().toFile('/tmp/strokes.png'); } }
}
void main();
