import { useMemo } from 'react';
import { Needle } from '../../../time/Needle';
import type { Ruler } from '../../../time/ruler';
import { useMove, useMoveStore } from '../slice';

/** The frame of the move that is seen. @param end where the ruler lies */
export function MoveNeedle({ ruler, end }: { ruler: Ruler; end: number }) {
  const store = useMoveStore();
  const needle = useMove((s) => s.needle);
  const keys = useMove((s) => s.document.move?.keys);
  const beads = useMemo(() => keys?.map(({ frame }) => frame) ?? [], [keys]);
  return (
    <Needle
      ruler={ruler}
      end={end}
      frame={needle}
      beads={beads}
      onSeek={(frame) => {
        const { seek, play } = store.getState();
        play(false);
        seek(frame);
      }}
    />
  );
}
