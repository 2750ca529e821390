import type { RoomCore } from '../room/core';
import { cut } from './cut/module';
import { depth } from './depth/module';
import { fill } from './fill/module';
import type { StageModule } from './module';
import { move } from './move/module';
import { output } from './output/module';
import { source } from './source/module';
import { stereo } from './stereo/module';

/** The stages that have work to do, in the order of work. The one list of stages: a new one is a folder and a name in it. */
const MODULES = [source, cut, depth, fill, move, stereo, output] as const;

type Intersection<Union> = (Union extends unknown ? (each: Union) => void : never) extends (all: infer All) => void
  ? All
  : never;

/** All that a room knows, with what belongs to each stage. */
export type RoomState = RoomCore & Intersection<ReturnType<(typeof MODULES)[number]['slice']>>;

export const STAGES = MODULES as unknown as readonly StageModule<RoomState>[];

/** A stage by its key. */
export const stageOf = (key: string): StageModule<RoomState> => STAGES.find((stage) => stage.key === key)!;
