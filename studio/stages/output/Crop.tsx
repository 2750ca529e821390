'use client';

import { coverWindow } from '@/core/move/coverWindow';
import { eyeSize } from '@/core/recipes/video';
import { handedSize } from '@/core/shot/document';
import { useRoom } from '../../room/context';
import type { Bench } from '../../viewer/tool';

/** What of the picture a video of another shape shows: the rest is dimmed. */
export function Crop({ bench: { toScreen, size } }: { bench: Bench }) {
  const open = useRoom((s) => s.opened[s.stage] === 'video' && s.document.move !== null);
  const document = useRoom((s) => s.document);
  const both = useRoom((s) => s.ways[s.stage] === 'both');
  if (!open) return null;
  const handed = handedSize(document);
  const each = eyeSize(document.recipes.video, handed);
  const { window } = coverWindow(handed, each);
  const width = each.width / window.scale;
  const height = each.height / window.scale;
  if (handed.width - width < 1 && handed.height - height < 1) return null;
  const { left, top } = document.frame ?? { left: 0, top: 0 };
  const shown = (both ? [0, document.source.width] : [0]).map((shift) => {
    const from = toScreen({ x: left + window.left + shift, y: top + window.top });
    const to = toScreen({ x: left + window.left + shift + width, y: top + window.top + height });
    return { x: from.x, y: from.y, width: to.x - from.x, height: to.y - from.y };
  });
  const hole = shown.map((r) => `M${r.x} ${r.y}h${r.width}v${r.height}h${-r.width}Z`).join('');
  return (
    <>
      <svg className="ct-over" aria-hidden>
        <path className="ct-dim" fillRule="evenodd" d={`M0 0H${size.width}V${size.height}H0Z${hole}`} />
        {shown.map((r) => (
          <g key={r.x}>
            <rect className="ct-casing" {...r} />
            <rect className="ct-line" {...r} />
          </g>
        ))}
      </svg>
      <div className="ct-slip" data-testid="crop" style={{ left: shown[0].x + 8, top: shown[0].y + 8 }}>
        <b>
          {each.width} × {each.height}
        </b>
      </div>
    </>
  );
}
