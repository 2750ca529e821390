/**
 * Cuts a stream of JPEGs into single ones: each begins with FF D8 and ends with FF D9, which within coded pixels only
 * appears as a
 * marker (there FF is followed by 00). Source: ITU-T T.81, B.1.1. Only for JPEGs without pictures in their headers.
 */
export async function* jpegsIn(pieces: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
  let held: Buffer[] = [];
  /** The last byte of what came before was FF. */
  let open = false;
  for await (const piece of pieces) {
    let begin = 0;
    for (let at = open && piece[0] === 0xd9 ? 0 : findEnd(piece, 0); at >= 0; at = findEnd(piece, at + 1)) {
      yield Buffer.concat([...held, piece.subarray(begin, at + 1)]);
      held = [];
      begin = at + 1;
    }
    if (begin < piece.length) held.push(piece.subarray(begin));
    open = piece[piece.length - 1] === 0xff;
  }
}

/** Where the next FF D9 ends, from a place on; -1 where there is none. */
function findEnd(piece: Buffer, from: number): number {
  for (let at = piece.indexOf(0xff, from); at >= 0 && at + 1 < piece.length; at = piece.indexOf(0xff, at + 1))
    if (piece[at + 1] === 0xd9) return at + 1;
  return -1;
}
