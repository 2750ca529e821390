'use client';

import { useEffect, useRef, type ReactNode, type RefObject } from 'react';
import { isFlat } from '@/compute/look';
import { useRoom } from '../room/context';
import { stageOf } from '../stages';
import type { RoomCore } from '../room/core';
import type { Bench, Tool, UseTool } from './tool';

/** The tool that is in hand: a stage's, by the way of working that is open; undefined where the hand pans. */
export function toolOf(s: RoomCore): UseTool | undefined {
  const stage = stageOf(s.stage);
  const key = stage.tool ? stage.tool(s as never) : s.opened[s.stage];
  return key === undefined ? undefined : stage.tools[key];
}

/** True where a tool is in hand and the picture shown is the source's own view. */
export const hasTool = (s: RoomCore): boolean => toolOf(s) !== undefined && isFlat(s.ways[s.stage]);

/** Holds the tool that is in hand: mounts it anew for each way of working, gives it the keys, and shows what it draws. */
export function ToolHost({
  bench,
  held,
  panning,
}: {
  bench: Bench;
  held: RefObject<Tool | undefined>;
  panning: boolean;
}) {
  const useTool = useRoom(toolOf);
  const key = useRoom((s) => `${s.stage} ${s.opened[s.stage]}`);
  const shown = useRoom((s) => isFlat(s.ways[s.stage])) && !panning;
  if (!useTool) return <NoTool held={held} />;
  return <Hand key={key} useTool={useTool} bench={bench} held={held} shown={shown} />;
}

function NoTool({ held }: { held: RefObject<Tool | undefined> }): null {
  held.current = undefined;
  return null;
}

interface HandProps {
  readonly useTool: UseTool;
  readonly bench: Bench;
  readonly held: RefObject<Tool | undefined>;
  readonly shown: boolean;
}

function Hand({ useTool, bench, held, shown }: HandProps): ReactNode {
  const tool = useTool(bench);
  const latest = useRef(tool);
  latest.current = tool;
  held.current = tool;
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      if (e.target instanceof HTMLElement && /^(INPUT|TEXTAREA)$/.test(e.target.tagName)) return;
      if (!latest.current.key?.(e)) return;
      e.preventDefault();
      e.stopImmediatePropagation();
    };
    document.addEventListener('keydown', onKey, { capture: true });
    return () => {
      document.removeEventListener('keydown', onKey, { capture: true });
      // The next tool may be in hand already.
      if (held.current === latest.current) held.current = undefined;
    };
  }, [held]);
  return shown ? tool.overlay : null;
}
