// What runs in threads; bundled into .build/threads.mjs. Each reads what it needs from the database and stores the
// pixels that it
// makes there: revisions never change, so a step of the history only has to name them.
export { bringBack } from './bringBack';
export { bringPlate } from './bringPlate';
export { carriedColours, carriedWindow } from './carriedWindow';
export { carryBehind } from './carryBehind';
export { carryDepth } from './carryDepth';
export { carryPlates } from './carryPlates';
export { coverage } from './coverage';
export { cut } from './cut';
export { depthFaults } from './depthFaults';
export { editDepth } from './editDepth';
export { extend } from './extend';
export { fill } from './fill';
export { handOut } from './handOut';
export { importDepth } from './importDepth';
export { makeDepth } from './makeDepth';
export { match } from './match';
export { merge } from './merge';
export { motionDepth } from './motionDepth';
export { networkDepth } from './networkDepth';
export { openBehind } from './openBehind';
export { openGround } from './openGround';
export { readyFill } from './readyFill';
export { pairDepth } from './pairDepth';
export { split } from './split';
export { storeCarried } from './storeCarried';
export { storePlate } from './storePlate';
export { wake } from './wake';
