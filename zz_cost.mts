import sharp from 'sharp';
import { continueFill } from './core/inpaint/continuation/continueFill';
import { pictureOf } from './core/raster/picture';
const W = Number(process.env.W ?? 1788), H = Math.round(W*0.625);
const { data } = await sharp('demo/orangery/centre.png').resize(W, H, {kernel:'cubic',fit:'fill'}).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
const picture = pictureOf({ width: W, height: H }, new Uint8Array(data), 'straight');
const hole = { width: W, height: H, data: new Uint8Array(W*H) };
const r = Math.sqrt((W*H*0.1)/Math.PI);
for (let y=0;y<H;y++) for (let x=0;x<W;x++) if ((x-W/2)**2+(y-H/2)**2<r*r) hole.data[y*W+x]=255;
let depth;
if (process.env.DEPTH) {
  const raw = await sharp('demo/orangery/depth16.png').resize(W,H,{fit:'fill',kernel:'nearest'}).toColourspace('grey16').raw({ depth: 'ushort' }).toBuffer();
  depth = { width: W, height: H, data: new Uint16Array(raw.buffer, raw.byteOffset, W*H) };
}
const t = Date.now(); const c = process.cpuUsage();
continueFill(picture, hole, { ...(depth ? { depth } : {}) });
console.log(Date.now()-t, 'ms', process.cpuUsage(c).user/1000);
