/** The kind of moving pictures that a file's first bytes announce; undefined where they announce none. */
export function sniffFootage(head: Buffer): 'video' | 'gif' | undefined {
  const text = (from: number, to: number): string => head.toString('latin1', from, to);
  // ISO base media (MP4, MOV): a box of these kinds comes first; pictures (AVIF, HEIC) have other brands.
  if (text(4, 8) === 'ftyp') return /^(avi[fs]|mif1|msf1|hei)/.test(text(8, 12)) ? undefined : 'video';
  if (['moov', 'mdat', 'wide', 'free', 'skip'].includes(text(4, 8))) return 'video';
  if (head.subarray(0, 4).equals(Buffer.from([0x1a, 0x45, 0xdf, 0xa3]))) return 'video';
  if (text(0, 4) === 'RIFF' && text(8, 12) === 'AVI ') return 'video';
  if (text(0, 4) === 'GIF8') return 'gif';
  return undefined;
}
