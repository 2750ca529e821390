'use client';

import type { Finding } from '@/core/move/guard/findings';
import { figure } from '../../numbers';
import { SwitchRow } from '../../parts/SwitchRow';
import { Cures } from './Cures';
import { wordsOf } from './found';
import { useMove, useMoveStore } from './slice';
import { useFindings } from './useFindings';

/** What must not be seen, frame by frame, and what cures it. */
export function GuardWay() {
  const store = useMoveStore();
  const guard = useFindings();
  const document = useMove((s) => s.document);
  const both = useMove((s) => s.watchEyes);
  if (!document.move) return <p className="ct-hint">Nothing moves, so nothing can go wrong.</p>;
  if (!guard)
    return (
      <p className="ct-hint" role="status">
        Looking the move through.
      </p>
    );
  const { found, share } = guard;
  const seek = (finding: Finding): void => {
    const s = store.getState();
    s.play(false);
    s.seek(finding.worst);
  };
  return (
    <>
      <SwitchRow
        label="Look through both eyes"
        checked={both}
        onChange={(on) => {
          store.getState().set({ watchEyes: on });
        }}
      >
        Look through both eyes, too
      </SwitchRow>
      {(share < 1 || found.length === 0) && (
        <p className="ct-hint" role="status">
          {share < 1
            ? `Looked through ${figure(share * 100)} %.`
            : 'Nothing to see: no dry border, nothing open, no jump, all in comfort.'}
        </p>
      )}
      <ul className="ct-found">
        {found.map((finding) => {
          const { what, much } = wordsOf(finding, document);
          const { first, last, worst } = finding;
          return (
            <li key={`${finding.kind} ${first} ${finding.side ?? ''} ${finding.plate ?? ''}`}>
              <button
                type="button"
                onClick={() => {
                  seek(finding);
                }}
              >
                <b>
                  {what}, {much}
                </b>
                <span>
                  {first === last ? `frame ${first + 1}` : `frames ${first + 1} to ${last + 1}, worst at ${worst + 1}`}
                </span>
              </button>
              <Cures finding={finding} all={found} />
            </li>
          );
        })}
      </ul>
    </>
  );
}
