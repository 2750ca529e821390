import { useRef } from 'react';
import { slackOf, withSlack, type Slack } from '@/core/time/slack';
import type { MovePart } from '@/core/shot/document';
import { figure } from '../../../numbers';
import { useMove, useMoveStore } from '../slice';
import { frameOf, xOf, type Ruler } from '../../../time/ruler';
import { stepOf } from '../../../time/step';

/** A loose thread hangs so low, and so much lower a frame of slack, css px. */
const HANGS = 8;
const PER_FRAME = 1.1;
/** A knot that is pulled taut lies so far beside its bead, to be taken hold of. */
const TAUT = 9;

/** The slack of the eases: from each bead a loose thread hangs to a knot on the curve, one going out, one coming in. */
export function Knots({ ruler, move, yAt }: { ruler: Ruler; move: MovePart; yAt(frame: number): number }) {
  return move.keys
    .slice(0, -1)
    .flatMap((key, n) =>
      key.ease === 'hold'
        ? []
        : (['out', 'in'] as const).map((end) => (
            <Knot key={`${n} ${end}`} ruler={ruler} move={move} index={n} end={end} yAt={yAt} />
          )),
    );
}

interface Props {
  readonly ruler: Ruler;
  readonly move: MovePart;
  /** Of the bead before. */
  readonly index: number;
  readonly end: keyof Slack;
  yAt(frame: number): number;
}

function Knot({ ruler, move, index, end, yAt }: Props) {
  const store = useMoveStore();
  const held = useRef(false);
  const [from, to] = [move.keys[index], move.keys[index + 1]];
  const bead = end === 'out' ? index : index + 1;
  const chosen = useMove((s) => s.bead === bead);
  const frames = to.frame - from.frame;
  const slack = slackOf(from.ease, frames)[end];
  const at = end === 'out' ? from.frame + slack : to.frame - slack;
  const anchor = move.keys[bead].frame;
  const way = end === 'out' ? 1 : -1;
  const [ax, ay] = [xOf(ruler, anchor), yAt(anchor)];
  const x = slack < 0.5 ? ax + way * TAUT : xOf(ruler, at);
  const y = slack < 0.5 ? ay : yAt(at);
  const sag = Math.max(ay, y) + (slack < 0.5 ? 0 : 2 * (HANGS + PER_FRAME * slack) * 0.6);
  const says = `slack ${end === 'out' ? 'going out' : 'coming in'}`;
  const set = (next: number): void => {
    const s = store.getState();
    const keys = s.document.move!.keys.map((k, n) =>
      n === index ? { ...k, ease: withSlack(k.ease, frames, end, next) } : k,
    );
    s.tryMove({ keys });
  };
  const keep = (): void => {
    store.getState().keep(`Bead ${bead + 1}, ${says}`);
  };
  return (
    <g
      className={chosen ? 'ct-knot on' : 'ct-knot'}
      role="slider"
      tabIndex={0}
      aria-label={`Bead ${bead + 1}, ${says}`}
      aria-valuemin={0}
      aria-valuemax={frames}
      aria-valuenow={Math.round(slack)}
      aria-valuetext={`${figure(slack, 1)} frames`}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        store.getState().set({ bead });
        held.current = true;
      }}
      onPointerMove={(e) => {
        if (!held.current) return;
        const { left } = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
        set(Math.max(0, way * (frameOf(ruler, e.clientX - left) - anchor)));
      }}
      onPointerUp={() => {
        if (held.current) keep();
        held.current = false;
      }}
      onKeyDown={(e) => {
        const step = stepOf(e);
        if (step === undefined || !e.altKey) return;
        e.preventDefault();
        e.stopPropagation();
        const now = slackOf(store.getState().document.move!.keys[index].ease, frames)[end];
        set(Math.max(0, Math.round(now) + way * step));
        store.getState().keepSoon(`Bead ${bead + 1}, ${says}`);
      }}
    >
      <title>
        {figure(slack, 1)} frames {says}
      </title>
      <path className="ct-knot-thread" d={`M${ax} ${ay} Q${(ax + x) / 2} ${sag} ${x} ${y}`} />
      <circle className="ct-time-hit" cx={x} cy={y} r={9} />
      <path className="ct-knot-ends" d={`M${x} ${y}l-3 -6M${x} ${y}l3 -6`} />
      <circle className="ct-knot-knot" cx={x} cy={y} r={3} />
    </g>
  );
}
