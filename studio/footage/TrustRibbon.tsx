import { useRoom, useRoomStore } from '../room/context';
import { Hatch } from '../time/Hatch';
import { xOf, type Ruler } from '../time/ruler';
import { trustOf } from './trustOf';
import { unsureStretches, type UnsureStretch } from './unsure';

interface TrustRibbonProps {
  readonly ruler: Ruler;
  readonly top: number;
  readonly height: number;
  /** Whose trust it is. @default that of depth */
  readonly plate: string | undefined;
}

/**
 * How far each frame's depth, or a plate's cut, is trusted: as high as it is sure, hatched where it is not, empty where nothing is
 * carried.
 */
export function TrustRibbon({ ruler, top, height, plate }: TrustRibbonProps) {
  const store = useRoomStore();
  const trust = useRoom((s) => trustOf(s.footage, plate));
  const limit = useRoom((s) => s.trustLimit);
  const middle = top + height / 2;
  const half = (v: number): number => 2 + (height / 2 - 2) * v;
  const bands: string[] = [];
  if (trust)
    for (let n = 0; n < trust.length;) {
      const from = n;
      while (n < trust.length && trust[n] !== null) n++;
      // A key alone is no band.
      if (n > from + 1)
        bands.push(
          bandOf(
            trust.slice(from, n).map((v, k) => [xOf(ruler, from + k), half(v ?? 0)]),
            middle,
          ),
        );
      while (n < trust.length && trust[n] === null) n++;
    }
  const unsure = trust ? unsureStretches(trust, limit) : [];
  const long = ({ first, last }: UnsureStretch): number => last - first;
  const widest = [...unsure].sort((a, b) => long(b) - long(a)).at(0);
  return (
    <g className="ct-ribbon">
      <Hatch id="ct-unsure" />
      <text x={8} y={middle + 4} className="ct-time-word">
        Trust
      </text>
      {bands.map((d) => (
        <path key={d} d={d} />
      ))}
      {trust && bands.length === 0 && (
        <text x={ruler.left + 14} y={middle + 4} className="ct-ribbon-says">
          not carried yet
        </text>
      )}
      {unsure.map(({ first, last, worst }) => (
        <rect
          key={first}
          x={xOf(ruler, first) - 3}
          y={middle - 6}
          width={xOf(ruler, last) - xOf(ruler, first) + 6}
          height={12}
          role="button"
          tabIndex={0}
          aria-label={`Unsure, frames ${first + 1} to ${last + 1}, worst at frame ${worst + 1}`}
          onPointerDown={(e) => {
            e.stopPropagation();
            store.getState().roll(false);
            store.getState().goTo(worst);
          }}
          onKeyDown={(e) => {
            if (e.key === 'Enter') store.getState().goTo(worst);
          }}
        />
      ))}
      {widest && (
        <Says ruler={ruler} y={middle + 4} from={xOf(ruler, widest.first)} to={xOf(ruler, widest.last)}>
          {widest.first === widest.last
            ? `unsure, frame ${widest.first + 1}`
            : `unsure, frames ${widest.first + 1} to ${widest.last + 1}`}
        </Says>
      )}
    </g>
  );
}

/** Words beside a hatched stretch: behind it where there is room, else before it. */
function Says({
  ruler,
  y,
  from,
  to,
  children,
}: {
  ruler: Ruler;
  y: number;
  from: number;
  to: number;
  children: string;
}) {
  const behind = to + 10 + children.length * 6 < ruler.right;
  if (!behind && from - 10 - children.length * 6 < ruler.left) return null;
  return (
    <text x={behind ? to + 10 : from - 10} y={y} textAnchor={behind ? 'start' : 'end'} className="ct-time-see">
      {children}
    </text>
  );
}

/** A band around a middle line through places that say how high it is to both sides. */
function bandOf(places: readonly (readonly [x: number, half: number])[], middle: number): string {
  const line = (side: 1 | -1) => places.map(([x, half]) => `${x.toFixed(1)},${(middle + side * half).toFixed(1)}`);
  return `M${line(-1).join('L')}L${line(1).reverse().join('L')}Z`;
}
