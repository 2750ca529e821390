import { useMemo, useRef, type PointerEvent } from 'react';
import { withKeyAt } from '@/core/camera/editKeys';
import { JUDDER_WIDTH, speedAt } from '@/core/move/speed';
import { wholeScene } from '@/core/scene/sceneAt';
import { handedSize, type CameraKey, type MovePart } from '@/core/shot/document';
import { secondsOf } from '@/core/time/rate';
import { figure } from '../../../numbers';
import { useMove, useMoveStore } from '../slice';
import { CHANNELS, liveliest, scaleOf, type Channel } from './channels';
import { Knots } from './Knots';
import { SPEED, VALUES } from './measures';
import { frameOf, xOf, type Ruler } from '../../../time/ruler';
import { stepOf } from '../../../time/step';

/** Points in which a curve is drawn. */
const POINTS = 180;

/**
 * An opened string: one value of the camera over time with its beads and their slack, and how fast the nearest
 * passes.
 */
export function CurveCard({ ruler, move, top }: { ruler: Ruler; move: MovePart; top: number }) {
  const store = useMoveStore();
  const chosen = useMove((s) => s.channel);
  const channel = CHANNELS.find(({ key }) => key === chosen) ?? liveliest(move);
  const needle = useMove((s) => s.needle);
  const values = useMemo(
    () => Array.from({ length: POINTS + 1 }, (_, n) => channel.at(move, ((move.frames - 1) * n) / POINTS)),
    [channel, move],
  );
  const owns = move.keys.map((k) => channel.own(k.value));
  const fitting = scaleOf(Math.min(...values, ...owns), Math.max(...values, ...owns), 4);
  // While a bead is dragged the scale stays.
  const frozen = useRef<typeof fitting | undefined>(undefined);
  const scale = frozen.current ?? fitting;
  const yOf = (v: number): number => top + VALUES - 8 - ((v - scale.from) / (scale.to - scale.from)) * (VALUES - 16);
  const valueOf = (y: number): number =>
    scale.from + ((top + VALUES - 8 - y) / (VALUES - 16)) * (scale.to - scale.from);
  const lines: number[] = [];
  for (let v = scale.from; v <= scale.to + scale.step / 2; v += scale.step) lines.push(v);
  const decimals = Math.max(0, Math.ceil(-Math.log10(scale.step) - 1e-9));
  const curve = values.map((v, n) => `${xOf(ruler, ((move.frames - 1) * n) / POINTS).toFixed(1)},${yOf(v).toFixed(1)}`);
  // A value's own speed at the needle, by the second around it.
  const aside = Math.min(move.frames - 1, needle + 0.5);
  const before = Math.max(0, needle - 0.5);
  const took = secondsOf(aside - before, move.fps);
  const speed = took > 0 ? (channel.at(move, aside) - channel.at(move, before)) / took : 0;
  return (
    <g className="ct-curve" onPointerDown={(e) => e.stopPropagation()}>
      <rect
        className="ct-curve-card"
        x={ruler.left - 8}
        y={top}
        width={ruler.right - ruler.left + 16}
        height={VALUES + SPEED + 4}
        rx={3}
      />
      <foreignObject x={3} y={top + 4} width={64} height={26}>
        <Channels
          channel={channel}
          onChoose={(key) => {
            store.getState().set({ channel: key });
          }}
        />
      </foreignObject>
      {lines.map((v) => (
        <g key={v.toFixed(6)}>
          <line className="ct-curve-line" x1={ruler.left} x2={ruler.right} y1={yOf(v)} y2={yOf(v)} />
          <text x={ruler.left - 12} y={yOf(v) + 4} textAnchor="end">
            {figure(v, decimals)}
          </text>
        </g>
      ))}
      <polyline className="ct-curve-way" points={curve.join(' ')} />
      {move.pace === 'keys' && <Knots ruler={ruler} move={move} yAt={(frame) => yOf(channel.at(move, frame))} />}
      {move.keys.map((key, n) => (
        <ValueBead
          key={n}
          ruler={ruler}
          move={move}
          index={n}
          channel={channel}
          y={yOf(channel.at(move, key.frame))}
          valueOf={valueOf}
          onHold={(on) => {
            frozen.current = on ? fitting : undefined;
          }}
        />
      ))}
      <text className="ct-curve-says" x={8} y={top + 46}>
        {figure(channel.at(move, needle), channel.decimals + 1)} {channel.unit}
      </text>
      <text x={8} y={top + 61}>
        {figure(speed, channel.decimals)} {channel.unit}/s
      </text>
      <Speed ruler={ruler} move={move} top={top + VALUES} />
      <line
        className="ct-curve-needle"
        x1={xOf(ruler, needle)}
        x2={xOf(ruler, needle)}
        y1={top}
        y2={top + VALUES + SPEED + 4}
      />
    </g>
  );
}

/** Which value the curve shows. */
function Channels({ channel, onChoose }: { channel: Channel; onChoose(key: string): void }) {
  return (
    <select
      className="ct-curve-channel"
      aria-label="Value of the curve"
      value={channel.key}
      onChange={(e) => {
        onChoose(e.target.value);
      }}
    >
      {CHANNELS.map((c) => (
        <option key={c.key} value={c.key}>
          {c.name}
        </option>
      ))}
    </select>
  );
}

/** How fast the nearest passes, and from where on it judders. */
function Speed({ ruler, move, top }: { ruler: Ruler; move: MovePart; top: number }) {
  const document = useMove((s) => s.document);
  const { points, most, limit } = useMemo(() => {
    const scene = wholeScene(document);
    const last = move.frames - 1;
    const frames = Array.from({ length: POINTS + 1 }, (_, n) => ((last - 1) * n) / POINTS);
    const speeds = frames.map((f) => speedAt(scene, move, f));
    return {
      points: frames.map((f, n) => [f, speeds[n]] as const),
      most: Math.max(...speeds),
      limit: JUDDER_WIDTH * handedSize(document).width * (24 / move.fps),
    };
  }, [document, move]);
  const full = Math.max(most * 1.15, 0.1);
  const yOf = (v: number): number => top + SPEED - 2 - (Math.min(v, full) / full) * (SPEED - 8);
  const way = points.map(([f, v]) => `${xOf(ruler, f).toFixed(1)},${yOf(v).toFixed(1)}`).join(' ');
  return (
    <g>
      <text x={8} y={top + 14} className="ct-time-name">
        Speed
      </text>
      <text x={8} y={top + 27}>
        px a frame
      </text>
      <text x={ruler.left - 12} y={yOf(most) + 4} textAnchor="end">
        {figure(most, 1)}
      </text>
      <polygon className="ct-curve-speed" points={`${ruler.left},${yOf(0)} ${way} ${ruler.right},${yOf(0)}`} />
      {limit < full && (
        <>
          <line className="ct-curve-judder" x1={ruler.left} x2={ruler.right} y1={yOf(limit)} y2={yOf(limit)} />
          <text className="ct-time-see" x={ruler.right} y={yOf(limit) - 3} textAnchor="end">
            judders from {figure(limit, 0)}
          </text>
        </>
      )}
    </g>
  );
}

interface BeadProps {
  readonly ruler: Ruler;
  readonly move: MovePart;
  readonly index: number;
  readonly channel: Channel;
  readonly y: number;
  valueOf(y: number): number;
  onHold(on: boolean): void;
}

/** A bead on the curve: dragged along time, or up and down for its value; whichever the hand begins with. */
function ValueBead({ ruler, move, index, channel, y, valueOf, onHold }: BeadProps) {
  const store = useMoveStore();
  const chosen = useMove((s) => s.bead === index);
  const from = useRef<
    { x: number; y: number; own: number; value: number; frame: number; way?: 'time' | 'value' } | undefined
  >(undefined);
  const key = move.keys[index];
  const x = xOf(ruler, key.frame);
  const label = `${channel.name} at bead ${index + 1}`;
  const choose = (): void => {
    const s = store.getState();
    s.play(false);
    s.set({ bead: index });
    s.seek(key.frame);
  };
  const setValue = (v: number): void => {
    const [least, most] = channel.limits;
    const rounded = Number(Math.min(most, Math.max(least, v)).toFixed(channel.decimals + 1));
    const keys = store
      .getState()
      .document.move!.keys.map((k, n): CameraKey =>
        n === index ? { ...k, value: channel.with(k.value, rounded) } : k,
      );
    store.getState().tryMove({ keys });
  };
  const setFrame = (frame: number): void => {
    const s = store.getState();
    const keys = withKeyAt(s.document.move!.keys, index, frame, move.frames);
    s.tryMove({ keys });
    s.seek(keys[index].frame);
  };
  const here = (e: PointerEvent<SVGGElement>): { x: number; y: number } => {
    const box = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top };
  };
  const end = (): void => {
    if (!from.current) return;
    const { way } = from.current;
    from.current = undefined;
    onHold(false);
    if (way) store.getState().keep(way === 'value' ? `${channel.name} of a bead` : 'Move a bead');
  };
  return (
    <g
      className="ct-time-bead"
      role="slider"
      tabIndex={0}
      aria-orientation="vertical"
      aria-label={label}
      aria-valuenow={channel.own(key.value)}
      aria-valuetext={`${figure(channel.own(key.value), channel.decimals + 1)} ${channel.unit}, frame ${key.frame + 1}`}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        choose();
        const p = here(e);
        from.current = { ...p, own: channel.own(key.value), value: valueOf(p.y), frame: key.frame };
        onHold(true);
      }}
      onPointerMove={(e) => {
        const was = from.current;
        if (!was) return;
        const p = here(e);
        const [dx, dy] = [Math.abs(p.x - was.x), Math.abs(p.y - was.y)];
        if (!was.way && Math.max(dx, dy) > 3) was.way = dx > dy ? 'time' : 'value';
        if (was.way === 'value') setValue(was.own + valueOf(p.y) - was.value);
        else if (was.way === 'time') setFrame(was.frame + frameOf(ruler, p.x) - frameOf(ruler, was.x));
      }}
      onPointerUp={end}
      onPointerCancel={end}
      onFocus={() => {
        if (store.getState().bead !== index && !from.current) choose();
      }}
      onKeyDown={(e) => {
        const s = store.getState();
        const now = s.document.move!.keys[index];
        const step = stepOf(e);
        const up = { ArrowUp: 1, ArrowDown: -1 }[e.key];
        if (up !== undefined) {
          setValue(channel.own(now.value) + up * 10 ** -channel.decimals * (e.shiftKey ? 10 : 1));
          s.keepSoon(`${channel.name} of a bead`);
        } else if (step !== undefined && e.altKey) {
          setFrame(now.frame + step);
          s.keepSoon('Move a bead');
        } else if (e.key === 'Enter') s.set({ curve: false });
        else return;
        e.preventDefault();
        e.stopPropagation();
      }}
    >
      <circle className="ct-time-hit" cx={x} cy={y} r={10} />
      {chosen && <circle className="ct-time-ring" cx={x} cy={y} r={8} />}
      <circle cx={x} cy={y} r={5} />
    </g>
  );
}
