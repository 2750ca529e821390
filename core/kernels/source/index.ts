// Everything the module exports. Memory is laid out by the caller: the module itself keeps nothing.
export { renderRows } from './view';
export { mixAnaglyph } from './anaglyph';
export { relaxMembrane } from './membrane';
export { blendRows, gatherRow } from './interlace';
/** First free byte for the caller's own layout. */
export function firstFree(): usize { return (__heap_base + 63) & ~63; }
