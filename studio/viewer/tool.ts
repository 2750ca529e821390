import type { ReactNode } from 'react';
import type { StoreApi } from 'zustand';
import type { Point } from '@/core/raster/geometry';
import type { RoomCore } from '../room/core';
import type { PreviewControl } from './previewControl';

/** What of a press or a move matters to a tool. */
export interface Pen {
  readonly shiftKey: boolean;
  readonly altKey: boolean;
  /** How many clicks this press makes. */
  readonly detail: number;
  /** The pen's way since the last move, finer than the browser's frames, with its pressure, 0 to 1. */
  readonly path: readonly (Point & { readonly pressure: number })[];
}

/** What the pen does on the picture in one way of working; places in full-size px. */
export interface Tool {
  down?(at: Point, pen: Pen): void;
  /** While it is pressed. */
  move?(at: Point, pen: Pen): void;
  up?(at: Point): void;
  /** While it is not pressed; undefined when it leaves the picture. */
  hover?(at: Point | undefined): void;
  doubleClick?(): void;
  /** True where it takes a key. */
  key?(event: KeyboardEvent): boolean;
  /** What it draws over the picture. */
  readonly overlay?: ReactNode;
  /** @default a crosshair */
  readonly cursor?: string;
}

/** What a tool works with. */
export interface Bench {
  readonly store: StoreApi<RoomCore>;
  readonly preview: PreviewControl;
  /** Css px per full-size px. */
  readonly zoom: number;
  /** Size of the viewer, css px. */
  readonly size: { readonly width: number; readonly height: number };
  /** A full-size place in css px of the viewer. */
  toScreen(at: Point): Point;
}

/** A tool as a hook: it keeps what is being drawn, and ends when another one is taken in hand. */
export type UseTool = (bench: Bench) => Tool;

/** Rounded to a tenth of a px: finer than any hand. */
export const tenths = ({ x, y }: Point): Point => ({ x: Math.round(x * 10) / 10, y: Math.round(y * 10) / 10 });

/** Every point that lies at least `step` from the one kept before it, and the last, rounded to a tenth of a px. */
export function thinned(points: readonly Point[], step: number): Point[] {
  const kept: Point[] = [];
  points.forEach((p, n) => {
    const last = kept[kept.length - 1];
    if (!last || n === points.length - 1 || Math.hypot(p.x - last.x, p.y - last.y) >= step) kept.push(tenths(p));
  });
  return kept.slice(0, MOST_POINTS);
}
const MOST_POINTS = 5000;

/** A path without points that lie on the one before: the second press of a double click sets the last one twice. */
export const withoutTwins = <P extends Point>(points: readonly P[]): P[] =>
  points.filter((p, n) => n === 0 || Math.hypot(p.x - points[n - 1].x, p.y - points[n - 1].y) > 0.5);
