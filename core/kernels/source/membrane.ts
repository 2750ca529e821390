// The membrane over revealed pixels: its nodes are gathered row by row while a view is drawn, then relaxed together.
//
// A node takes 64 bytes: 0 value f32x4 | 16 sum of its known neighbours f32x4 | 32 the nodes at its left, right, above and
// below (i32, 0 for none) | 48 weight of its neighbours, later omega over it (f32) | 52 depth of its ground (i32) | 56 its pixel
// (u32) | 60 weight of each neighbour above and below, for 1 beside it (f32). Node 0 is all zeros and stands for "no neighbour".

import { HOLD } from './edges';
import { putColour } from './pixel';
import { heldColour } from './strips';

const VALUE: usize = 0, KNOWN: usize = 16, LEFT: usize = 32, RIGHT: usize = 36, ABOVE: usize = 40, BELOW: usize = 44,
  COUNT: usize = 48, GROUND: usize = 52, PIXEL: usize = 56,
  UPRIGHT: usize = 60;

// @ts-ignore: decorator
@inline
function count(node: usize, weight: f32): void {
  store<f32>(node + COUNT, load<f32>(node + COUNT) + weight);
}

// @ts-ignore: decorator
@inline
function hold(node: usize, by: v128, weight: f32): void {
  v128.store(node + KNOWN, f32x4.add(v128.load(node + KNOWN), f32x4.mul(by, f32x4.splat(weight))));
  count(node, weight);
}

/** The weight of what lies above and below a node. */
// @ts-ignore: decorator
@inline
function upright(node: usize): f32 { return load<f32>(node + UPRIGHT); }

/** Depth of the source that a target column shows, larger = nearer. */
// @ts-ignore: decorator
@inline
function nearness(line: usize, map: usize, x: i32, width: i32, sign: i32): i32 {
  const column = min(width - 1, (load<i32>(map + (<usize>x << 2)) + 128) >> 8);
  return sign * <i32>load<u16>(line + (<usize>column << 1));
}

/**
 * Appends the revealed pixels of one row to the nodes. A known neighbour holds a node, and two nodes hold each other, unless it
 * is nearer than the node's ground by more than `jump`: then it is the thing in front, and no part of what lies behind.
 *
 * src, edges and the same Above: the source's rows and the edge of each of their columns (strips.ts), 0 elsewhere.
 * runs, runsAbove: `from, to` pairs (i32) of revealed columns of this row and the one above; index, indexAbove: the node of every
 * revealed column, 0 elsewhere; out, map, line and the same Above: the rows' pixels, source coordinates and depth.
 * hasAbove is 0 for the picture's first row. Returns the next free node.
 */
export function gatherRow(
  nodes: usize, first: i32, src: usize, srcAbove: usize, edges: usize, edgesAbove: usize,
  runs: usize, runCount: i32, runsAbove: usize, runsAboveCount: i32, index: usize, indexAbove: usize,
  out: usize, outAbove: usize, map: usize, mapAbove: usize, line: usize, lineAbove: usize,
  hasAbove: bool, width: i32, jump: i32, sign: i32, sampleBytes: i32, pixel: u32,
): i32 {
  let k = first;
  for (let r = 0; r < runCount; r++) {
    const from = load<i32>(runs + (<usize>r << 3)), to = load<i32>(runs + (<usize>r << 3) + 4);
    const ground = nearness(line, map, from, width, sign);
    const edge = <usize>load<u32>(edges + (<usize>(load<i32>(map + (<usize>from << 2)) >> 8) << 2));
    const weight: f32 = edge ? load<f32>(edge + HOLD) : 1;
    const start = heldColour(src, edges, map, out, from, sampleBytes);
    for (let x = from; x < to; x++, k++) {
      const node = nodes + (<usize>k << 6);
      const zero = i32x4.splat(0);
      v128.store(node + VALUE, start);
      v128.store(node + KNOWN, zero);
      v128.store(node + LEFT, zero);
      v128.store(node + COUNT, zero);
      store<i32>(node + GROUND, ground);
      store<u32>(node + PIXEL, pixel + <u32>x);
      store<f32>(node + UPRIGHT, weight);
      if (x > from) {
        store<i32>(node + LEFT, k - 1);
        store<i32>(node - 64 + RIGHT, k);
        count(node, 1);
        count(node - 64, 1);
      } else if (x > 0 && nearness(line, map, x - 1, width, sign) - ground <= jump)
        hold(node, heldColour(src, edges, map, out, x - 1, sampleBytes), 1);
      if (hasAbove) {
        const above = load<i32>(indexAbove + (<usize>x << 2));
        if (above) {
          const other = nodes + (<usize>above << 6);
          if (abs(load<i32>(other + GROUND) - ground) <= jump) {
            store<i32>(node + ABOVE, above);
            store<i32>(other + BELOW, k);
            count(node, weight);
            count(other, upright(other));
          }
        } else if (nearness(lineAbove, mapAbove, x, width, sign) - ground <= jump)
          hold(node, heldColour(srcAbove, edgesAbove, mapAbove, outAbove, x, sampleBytes), weight);
      }
      store<i32>(index + (<usize>x << 2), k);
    }
    if (to < width && nearness(line, map, to, width, sign) - ground <= jump)
      hold(nodes + (<usize>(k - 1) << 6), heldColour(src, edges, map, out, to, sampleBytes), 1);
  }
  for (let r = 0; r < runsAboveCount; r++) {
    const to = load<i32>(runsAbove + (<usize>r << 3) + 4);
    for (let x = load<i32>(runsAbove + (<usize>r << 3)); x < to; x++) {
      if (load<i32>(index + (<usize>x << 2))) continue;
      const node = nodes + (<usize>load<i32>(indexAbove + (<usize>x << 2)) << 6);
      if (nearness(line, map, x, width, sign) - load<i32>(node + GROUND) <= jump)
        hold(node, heldColour(src, edges, map, out, x, sampleBytes), upright(node));
    }
  }
  return k;
}

/**
 * Relaxes nodes 1 to end - 1: each becomes the mean of its neighbours, again and again (Gauss-Seidel with over-relaxation,
 * forwards and backwards in turns), and is then packed into its first 4 or 8 bytes as a pixel. A node without any neighbour
 * keeps its value.
 */
export function relaxMembrane(nodes: usize, end: i32, sweeps: i32, omega: f32, sampleBytes: i32): void {
  for (let k = 1; k < end; k++) {
    const node = nodes + (<usize>k << 6);
    const n = load<f32>(node + COUNT);
    if (n == 0) v128.store(node + KNOWN, v128.load(node + VALUE));
    store<f32>(node + COUNT, n == 0 ? omega : omega / n);
  }
  const rest = f32x4.splat(1 - omega);
  for (let sweep = 0; sweep < sweeps; sweep++) {
    // The neighbour that has just been written enters last, so that the chain from node to node stays short.
    if ((sweep & 1) == 0) {
      for (let k = 1; k < end; k++) {
        const node = nodes + (<usize>k << 6);
        relaxNode(nodes, node, node + LEFT, node + RIGHT, rest);
      }
    } else {
      for (let k = end - 1; k > 0; k--) {
        const node = nodes + (<usize>k << 6);
        relaxNode(nodes, node, node + RIGHT, node + LEFT, rest);
      }
    }
  }
  for (let k = 1; k < end; k++) {
    const node = nodes + (<usize>k << 6);
    // Not yet at rest it may swing: premultiplied colours are never more than their coverage.
    const value = v128.load(node);
    putColour(node, f32x4.min(value, f32x4.splat(f32x4.extract_lane(value, 3))), sampleBytes);
  }
}

// @ts-ignore: decorator
@inline
function relaxNode(nodes: usize, node: usize, last: usize, other: usize, rest: v128): void {
  const weight = v128.load32_splat(node + COUNT);
  let sum = f32x4.add(v128.load(node + KNOWN), v128.load(nodes + (<usize>load<u32>(other) << 6)));
  sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(node + UPRIGHT), f32x4.add(
    v128.load(nodes + (<usize>load<u32>(node + ABOVE) << 6)), v128.load(nodes + (<usize>load<u32>(node + BELOW) << 6)))));
  const base = f32x4.add(f32x4.mul(v128.load(node), rest), f32x4.mul(weight, sum));
  v128.store(node, f32x4.add(base, f32x4.mul(weight, v128.load(nodes + (<usize>load<u32>(last) << 6)))));
}
