'use client';

import type { UseTool } from '../../../viewer/tool';
import { letterOf } from '../CheckWay';
import { useDepth } from '../slice';

/** Where a map's faults are worst, lettered as in their list. */
export const useFaults: UseTool = ({ toScreen }) => {
  const faults = useDepth((s) => s.faults) ?? [];
  return {
    cursor: 'default',
    overlay: faults.map(({ kind, at }, n) => {
      if (!at) return null;
      const { x, y } = toScreen(at);
      return (
        <span key={kind} className="ct-fault-letter ct-fault-mark" style={{ left: x, top: y }} aria-hidden>
          {letterOf(n)}
        </span>
      );
    }),
  };
};
