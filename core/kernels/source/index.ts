// Everything the module exports. Memory is laid out by the caller: between calls the module itself keeps
// nothing but what it knows of the gaps in the view being drawn (view.ts).
export { renderRows, widestGap } from './view';
export { mixAnaglyph } from './anaglyph';
export { overRows } from './over';
export { relaxMembrane } from './membrane';
export { markEdges, partEdges } from './edges';
export { applyMatting } from './matting';
export { blendRows, gatherColumns } from './interlace';
/** First free byte for the caller's own layout. */
export function firstFree(): usize { return (__heap_base + 63) & ~63; }
export { relaxPlane } from './relax';
export { correlateSpectra, fourierColumns } from './fourier';
export { searchPatches, votePatches } from './patches';
export { closeCracks } from './closeCracks';
export { clearMap, drawMesh } from './mesh';
export { sampleMap } from './sampleMap';
export { relaxTears } from './relaxTears';
export { drawMoveStrips } from './moveStrips';
export { checksum } from './checksum';
export { smoothBonds, smoothColumns, smoothRows } from './smoothEdges';
export { foretellPlaces } from './foretellNodes';
export { findFlowPatches, spreadFlowPatches } from './flowPatches';
