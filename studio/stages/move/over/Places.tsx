'use client';

import type { Finding } from '@/core/move/guard/findings';
import { handedSize, type ShotDocument } from '@/core/shot/document';
import { figure } from '../../../numbers';
import type { Bench } from '../../../viewer/tool';
import { wordsOf } from '../found';
import { useMove } from '../slice';
import { useFindings } from '../useFindings';

interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** At a frame where something is worst: where in the picture, bracketed, with what it is. */
export function Places({ bench }: { bench: Bench }) {
  const guard = useFindings();
  const needle = useMove((s) => s.needle);
  const document = useMove((s) => s.document);
  const flat = useMove((s) => s.ways[s.stage] !== 'both' && s.beside === null);
  const here = flat ? (guard?.found ?? []).filter(({ worst }) => worst === needle) : [];
  const shown = here.flatMap((finding) => {
    const box = boxOf(finding, document, bench);
    return box ? [{ finding, box }] : [];
  });
  if (shown.length === 0) return null;
  return (
    <>
      <svg className="ct-over" aria-hidden>
        <defs>
          <pattern id="ct-place" width={6} height={6} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width={6} height={6} className="ct-place-ground" />
            <rect width={2.6} height={6} className="ct-place-line" />
          </pattern>
        </defs>
        {shown.map(({ finding, box }) => (
          <g key={keyOf(finding)} className={finding.kind === 'dry' ? 'ct-place dry' : 'ct-place'}>
            <rect className="ct-place-casing" {...box} />
            <rect className="ct-place-box" {...box} />
          </g>
        ))}
      </svg>
      {shown.map(({ finding, box }) => {
        const { what, much } = wordsOf(finding, document);
        return (
          <div key={keyOf(finding)} className="ct-slip ct-place-slip" style={slipAt(box, bench)} data-testid="place">
            <b>
              {what}, {much}
            </b>
            <span>worst at frame {figure(finding.worst + 1)}</span>
          </div>
        );
      })}
    </>
  );
}

const keyOf = ({ kind, side, plate, first }: Finding): string => `${kind} ${side ?? ''} ${plate ?? ''} ${first}`;

/** Beside the box, within the picture's ground. */
function slipAt({ x, y, width, height }: Box, { size }: Bench): { left: number; top: number } {
  const right = x + width + 8;
  return {
    left: right + SLIP_WIDTH < size.width ? right : Math.max(4, x - SLIP_WIDTH - 8),
    top: Math.min(size.height - SLIP_HEIGHT, Math.max(4, y + Math.min(height, size.height) / 2 - SLIP_HEIGHT / 2)),
  };
}
const SLIP_WIDTH = 210;
const SLIP_HEIGHT = 48;

/** Where something lies, css px of the viewer; undefined where it lies nowhere in the picture. */
function boxOf(finding: Finding, document: ShotDocument, { toScreen }: Bench): Box | undefined {
  const { kind, side, px } = finding;
  let { at } = finding;
  const { width, height } = handedSize(document);
  const { left, top } = document.frame ?? { left: 0, top: 0 };
  const whole = { left, top, right: left + width, bottom: top + height };
  if (kind === 'dry')
    at = {
      left: side === 'right' ? whole.right - px : whole.left,
      top: side === 'bottom' ? whole.bottom - px : whole.top,
      right: side === 'left' ? whole.left + px : whole.right,
      bottom: side === 'top' ? whole.top + px : whole.bottom,
    };
  if (!at) return undefined;
  const a = toScreen({ x: Math.max(whole.left, at.left), y: Math.max(whole.top, at.top) });
  const b = toScreen({ x: Math.min(whole.right, at.right), y: Math.min(whole.bottom, at.bottom) });
  const around = kind === 'dry' ? 0 : 6;
  return {
    x: a.x - around,
    y: a.y - around,
    width: Math.max(3, b.x - a.x + 2 * around),
    height: Math.max(3, b.y - a.y + 2 * around),
  };
}
