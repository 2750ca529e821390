import type { z } from 'zod';
import { kindOf, schemaOf } from '../../kind';
import { blend } from './blend';
import { fit } from './fit';
import type { MakerGround } from './ground';
import { flatten } from './flatten';
import { level } from './level';
import { marks } from './marks';
import { match } from './match';
import { mend } from './mend';
import { remap } from './remap';
import { round } from './round';
import { slice } from './slice';
import { start } from './start';
import { uneven } from './uneven';

/** Every way to make a whole depth map. A new one is a file in this folder and a name in this list. */
const DEPTH_MAKERS = [start, marks, remap, round, slice, blend, level, match, uneven, fit, flatten, mend] as const;

/** How a whole depth map is made, as it travels from the page to the server; both make it with the same code. */
export const depthMakeSchema = schemaOf(DEPTH_MAKERS);
export type DepthMake = z.infer<typeof depthMakeSchema>;

const makerOf = (make: DepthMake) => kindOf<DepthMake, MakerGround, Float32Array>(DEPTH_MAKERS, make);

/**
 * Makes a whole map: depth 0 to 1 a pixel of the ground's picture.
 * @throws CoreError what it cannot be made of
 */
export const makeDepth = (ground: MakerGround, make: DepthMake): Float32Array => makerOf(make).apply(ground, make);

/** What it is called in the history. */
export const makeLabel = (make: DepthMake): string => makerOf(make).label(make);
