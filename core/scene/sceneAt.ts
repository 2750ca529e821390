import { poseAt, type Move } from '../camera/move';
import { AT_REST, type Pose } from '../camera/pose';
import type { Rig } from '../camera/rig';
import type { SourceCamera } from '../camera/sourceCamera';
import { BEGIN_CAMERA, sourceCameraOf, type CameraPart, type Frame } from '../shot/document';
import { sceneOf, type SceneFrame, type ScenePart } from './sceneOf';

/** A shot's scene with the camera that took it, and the eyes that ride on it. Plates lie on the source's rays. */
export interface Scene extends SceneFrame {
  readonly height: number;
  readonly camera: SourceCamera;
  readonly rig: Rig;
}

/** A scene at one moment. */
export interface SceneAt extends Scene {
  readonly pose: Pose;
}

/** The parts of a document that decide what a camera sees. */
export type MovedPart = ScenePart & {
  readonly source: { readonly width: number; readonly height: number };
  /** @default as shots begin */
  readonly camera?: CameraPart;
  readonly frame?: Frame | null;
};

const known = new WeakMap<MovedPart, Scene>();

/** The scene of a document, for every moment. @param camera another one than the document's */
export function wholeScene(document: MovedPart, camera?: SourceCamera): Scene {
  const before = camera ? undefined : known.get(document);
  if (before) return before;
  const { source, budget, sourceEye, swapEyes } = document;
  const part = document.camera ?? BEGIN_CAMERA;
  const seen = camera ?? sourceCameraOf(part, source, document.frame);
  const { focalPx, principalPoint, near, far } = seen;
  const frame = sceneOf(document);
  const scene: Scene = {
    ...frame,
    height: source.height,
    camera: seen,
    rig: { budget, sourceEye, swapEyes, base: part.base },
    version: [frame.version, focalPx, principalPoint.x, principalPoint.y, near, far, part.base].join(' '),
  };
  if (!camera) known.set(document, scene);
  return scene;
}

/** A scene at a frame of a move; at rest without one. Frames may lie between whole ones. */
export function sceneAt(scene: Scene, move: Move | null, frame: number): SceneAt {
  const pose = move ? poseAt(move, frame) : AT_REST;
  const { position, pan, tilt, roll, zoom } = pose;
  return { ...scene, pose, version: [scene.version, ...position, pan, tilt, roll, zoom].join(' ') };
}
