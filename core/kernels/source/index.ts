// Everything the module exports. Memory is laid out by the caller: between calls the module itself keeps
// nothing but the number of gaps in the row drawn last (view.ts).
export { renderRows } from './view';
export { mixAnaglyph } from './anaglyph';
export { relaxMembrane } from './membrane';
export { blendRows, gatherColumns } from './interlace';
/** First free byte for the caller's own layout. */
export function firstFree(): usize { return (__heap_base + 63) & ~63; }
