import { KERNELS_BASE64 } from './generated';

/** What the compiled module offers; every argument is a number, every pointer a byte offset into `memory`. */
export interface KernelExports {
  memory: WebAssembly.Memory;
  firstFree(): number;
  renderRows(
    src: number,
    depth: number,
    out: number,
    mask: number,
    scratch: number,
    nodes: number,
    node: number,
    y0: number,
    width: number,
    rows: number,
    base: number,
    scale: number,
    tear: number,
    jump: number,
    grow: number,
    sign: number,
    direction: number,
    sampleBytes: number,
    edges: number,
    starts: number,
    left: number,
    fragments: number,
  ): number;
  findFlowPatches(
    from: number,
    to: number,
    slopeX: number,
    slopeY: number,
    width: number,
    height: number,
    across: number,
    down: number,
    found: number,
    off: number,
    patch: number,
  ): void;
  spreadFlowPatches(
    from: number,
    to: number,
    width: number,
    height: number,
    across: number,
    down: number,
    found: number,
    sums: number,
  ): void;
  checksum(at: number, bytes: number, stride: number, rows: number, to: number): void;
  markEdges(
    src: number,
    depth: number,
    marks: number,
    width: number,
    height: number,
    top: number,
    first: number,
    end: number,
    left: number,
    right: number,
    limit: number,
    flip: number,
    sampleBytes: number,
  ): number;
  partEdges(
    src: number,
    depth: number,
    marks: number,
    width: number,
    height: number,
    top: number,
    first: number,
    end: number,
    left: number,
    right: number,
    limit: number,
    flip: number,
    sampleBytes: number,
    starts: number,
    list: number,
  ): void;
  widestGap(): number;
  overRows(
    upper: number,
    under: number,
    upperMask: number,
    underMask: number,
    count: number,
    sampleBytes: number,
  ): number;
  mixAnaglyph(left: number, right: number, out: number, pixels: number, matrix: number): void;
  relaxMembrane(nodes: number, end: number, sweeps: number, omega: number, sampleBytes: number): void;
  relaxPlane(
    values: number,
    list: number,
    count: number,
    width: number,
    height: number,
    sweeps: number,
    omega: number,
  ): void;
  searchPatches(
    picture: number,
    width: number,
    height: number,
    slot: number,
    targets: number,
    count: number,
    found: number,
    differences: number,
    may: number,
    back: number,
    widest: number,
    level: number,
    seed: number,
  ): number;
  votePatches(
    colours: number,
    deep: number,
    width: number,
    height: number,
    slot: number,
    found: number,
    weights: number,
    pixels: number,
    count: number,
    out: number,
  ): void;
  applyMatting(
    corners: number,
    facts: number,
    count: number,
    red: number,
    green: number,
    blue: number,
    values: number,
    out: number,
    width: number,
  ): void;
  fourierColumns(
    re: number,
    im: number,
    toRe: number,
    toIm: number,
    width: number,
    height: number,
    turns: number,
    scratch: number,
    first: number,
    end: number,
    inverse: number,
  ): void;
  correlateSpectra(at: number, width: number, height: number): void;
  clearMap(map: number, count: number): void;
  closeCracks(map: number, width: number, rows: number, left: number, right: number): void;
  drawMesh(
    depth: number,
    pixels: number,
    sampleBytes: number,
    width: number,
    height: number,
    cells: number,
    quarters: number,
    camera: number,
    near: number,
    far: number,
    planar: number,
    edges: number,
    tear: number,
    goOn: number,
    map: number,
    mapWidth: number,
    top: number,
    end: number,
  ): void;
  drawMoveStrips(
    edges: number,
    starts: number,
    depth: number,
    pixels: number,
    sampleBytes: number,
    width: number,
    height: number,
    camera: number,
    near: number,
    far: number,
    tear: number,
    slack: number,
    map: number,
    mapWidth: number,
    top: number,
    end: number,
    out: number,
    state: number,
    index: number,
    slots: number,
    most: number,
  ): void;
  relaxTears(
    map: number,
    out: number,
    sampleBytes: number,
    width: number,
    rows: number,
    slack: number,
    index: number,
    list: number,
    kept: number,
    most: number,
    sweeps: number,
  ): void;
  sampleMap(
    map: number,
    pixels: number,
    sampleBytes: number,
    width: number,
    height: number,
    scale: number,
    out: number,
    state: number,
    mapWidth: number,
    rows: number,
    left: number,
    right: number,
  ): void;
  blendRows(a: number, b: number, out: number, count: number, weight: number): void;
  gatherColumns(views: number, offsets: number, out: number, width: number): void;
  smoothBonds(guide: number, row: number, height: number, sigma: number, next: number, below: number): void;
  smoothRows(
    plane: number,
    next: number,
    row: number,
    width: number,
    height: number,
    lambda: number,
    held: number,
  ): void;
  smoothColumns(plane: number, below: number, row: number, height: number, lambda: number, c: number): void;
  foretellPlaces(
    places: number,
    count: number,
    samples: number,
    many: number,
    byPlace: number,
    byLook: number,
    placeBesideLook: number,
    out: number,
  ): void;
}

let shared: KernelExports | undefined;

/**
 * A module with memory of its own, for work that keeps its place in memory while others compute (a generator between
 * rows).
 */
export function ownKernels(): KernelExports {
  const bytes = Uint8Array.from(atob(KERNELS_BASE64), (c) => c.charCodeAt(0));
  return new WebAssembly.Instance(new WebAssembly.Module(bytes)).exports as unknown as KernelExports;
}

/**
 * The kernels shared by everything in this thread that computes and is done. Synchronous: 6 KB of WASM compile in
 * about a millisecond.
 */
export function kernels(): KernelExports {
  return (shared ??= ownKernels());
}

/**
 * Lays blocks of the given byte sizes one after another into the module's memory (each at a multiple of 64) and grows
 * it
 * where needed. Take typed-array views only after this call: growing kills older ones.
 */
export function layOut(sizes: readonly number[], k: KernelExports = kernels()): { at: number[]; buffer: ArrayBuffer } {
  let next = k.firstFree();
  const at = sizes.map((size) => {
    const here = next;
    next = (next + size + 127) & ~63;
    return here;
  });
  reach(next, k);
  return { at, buffer: k.memory.buffer };
}

/** Makes sure that the module's memory reaches `end` bytes. Growing kills older typed-array views. */
export function reach(end: number, k: KernelExports = kernels()): void {
  const missing = end - k.memory.buffer.byteLength;
  if (missing > 0) k.memory.grow(Math.ceil(missing / 65536));
}
