import type { FlowGraph } from './maxFlow';

// What it costs to part a picture into in and out, in whole numbers, so that the result is the same everywhere.

/** Fixed costs stand in whole numbers: this many to a unit of log likelihood. */
const UNIT = 256;
/** What no cut can pay: a stroked pixel keeps its side. */
export const HARD = 1 << 28;
/** How dear it is to part two equal neighbours, in units of log likelihood: gamma of the source (50 there). */
export const SMOOTH = 25;

/** What it costs to part neighbours of a likeness (a sum of them: of as many pairs). */
export const partingCost = (likeness: number, smooth = SMOOTH): number => capacity(smooth * likeness);

/** A cost in whole numbers, far below what holds a stroked pixel. */
function capacity(cost: number): number {
  return Math.min(HARD >> 3, Math.round(cost * UNIT));
}

/** Pulls a node towards "in" (positive: "out" would cost that much more) or "out". */
export function lean(graph: FlowGraph, node: number, towardsIn: number): void {
  graph.addTerminal(node, towardsIn > 0 ? capacity(towardsIn) : 0, towardsIn < 0 ? capacity(-towardsIn) : 0);
}
