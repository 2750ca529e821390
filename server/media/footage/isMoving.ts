import { open } from 'node:fs/promises';
import sharp from 'sharp';
import { isAnimatedPng, sniff } from '../inspect';
import { sniffFootage } from './sniffFootage';

/** So much of a file says what it is, bytes. */
const HEAD = 1 << 16;

/** True for a file of moving pictures: a video, an animated picture, a zip of pictures. */
export async function isMoving(path: string): Promise<boolean> {
  const file = await open(path);
  let head: Buffer;
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEAD), 0, HEAD, 0);
    head = buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
  if (head.toString('latin1', 0, 4) === 'PK\x03\x04' || sniffFootage(head) || isAnimatedPng(head)) return true;
  if (sniff(head) !== 'webp') return false;
  const { pages = 1 } = await sharp(path, { limitInputPixels: false })
    .metadata()
    .catch(() => ({ pages: 1 }));
  return pages > 1;
}
