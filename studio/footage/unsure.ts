/** Frames that follow each other and are trusted less than a limit. */
export interface UnsureStretch {
  readonly first: number;
  readonly last: number;
  /** The frame that is trusted least. */
  readonly worst: number;
}

/** The stretches of frames whose depth is carried and trusted less than a limit, 0 to 1. */
export function unsureStretches(trust: readonly (number | null)[], limit: number): UnsureStretch[] {
  const found: UnsureStretch[] = [];
  for (let n = 0; n < trust.length; n++) {
    const low = (k: number): boolean => trust[k] !== null && trust[k] !== undefined && trust[k] < limit;
    if (!low(n)) continue;
    const first = n;
    let worst = n;
    while (low(n + 1)) {
      n++;
      if (trust[n]! < trust[worst]!) worst = n;
    }
    found.push({ first, last: n, worst });
  }
  return found;
}
