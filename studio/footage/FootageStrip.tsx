'use client';

import { useMemo, useRef, type PointerEvent } from 'react';
import { footageRange, type Footage } from '@/core/shot/document';
import { useRoom, useRoomStore } from '../room/context';
import { stageOf } from '../stages';
import { useWidth } from '../parts/useWidth';
import { Figures } from '../time/Figures';
import { Needle } from '../time/Needle';
import { Posts } from '../time/Posts';
import { frameOf, xOf, type Ruler } from '../time/ruler';
import { KeyString } from './KeyString';
import { Prints } from './Prints';
import { TrustRibbon } from './TrustRibbon';

/** Time begins so far from the left and ends so far from the right, css px. */
const NAMES = 100;
const END = 16;
const TOP = 8;
const PRINTS = 40;
const STRING = 22;
const RIBBON = 26;
const RULER = 24;
const OWN = TOP + PRINTS + STRING + RIBBON + RULER;

/** The strip of time under the picture: small pictures, the keys of depth and of the plate in work, how far they are trusted, and the frames. */
export function FootageStrip() {
  const footage = useRoom((s) => s.document.footage);
  return footage && <Strip footage={footage} />;
}

function Strip({ footage }: { footage: Footage }) {
  const store = useRoomStore();
  const frame = useRef<HTMLDivElement>(null);
  const width = useWidth(frame, 764);
  const { frames } = footage;
  const ruler: Ruler = useMemo(() => ({ left: NAMES, right: width - END, frames }), [width, frames]);
  const range = footageRange(footage);
  const moment = useRoom((s) => s.moment);
  const plate = useRoom((s) => s.document.plates.find((p) => p.id === s.active && p.keys.length > 0));
  const more = plate ? STRING : 0;
  const beads = useMemo(
    () =>
      [...new Set([...footage.keys, ...(plate?.keys ?? [])].map(({ frame: keyed }) => keyed))].sort((a, b) => a - b),
    [footage.keys, plate?.keys],
  );
  const added = stageOf(useRoom((s) => s.stage)).Strip;
  const height = OWN + more + (added?.height ?? 0);
  const point = (e: PointerEvent<SVGSVGElement>): void => {
    const { left } = e.currentTarget.getBoundingClientRect();
    const s = store.getState();
    s.roll(false);
    s.goTo(frameOf(ruler, e.clientX - left));
  };
  return (
    <div className="ct-time" ref={frame}>
      <svg
        width={width}
        height={height}
        role="group"
        aria-label="Time"
        onPointerDown={(e) => {
          if (e.button !== 0) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          point(e);
        }}
        onPointerMove={(e) => {
          if (e.currentTarget.hasPointerCapture(e.pointerId)) point(e);
        }}
      >
        <Prints ruler={ruler} top={TOP} />
        <Figures ruler={ruler} y={height - RULER} />
        <Posts
          ruler={ruler}
          range={range}
          top={TOP - 4}
          height={height - RULER - TOP + 2}
          onTry={(next) => {
            store.getState().try({ footage: { range: next } });
          }}
          onKeep={() => {
            store.getState().keep('In and out');
          }}
          onKeepSoon={() => {
            store.getState().keepSoon('In and out');
          }}
        />
        {added && <added.Row ruler={ruler} top={TOP + PRINTS + STRING + more + RIBBON} />}
        <KeyString ruler={ruler} y={TOP + PRINTS + STRING / 2} name="Depth" label="Depth key" keys={footage.keys} />
        {plate && (
          <KeyString
            ruler={ruler}
            y={TOP + PRINTS + STRING * 1.5}
            name={plate.name}
            label={`Key of ${plate.name}`}
            keys={plate.keys.map(({ frame: keyed, matte }) => ({ frame: keyed, gone: matte === null }))}
          />
        )}
        <TrustRibbon ruler={ruler} top={TOP + PRINTS + STRING + more} height={RIBBON - 4} plate={plate?.id} />
        <Needle
          ruler={ruler}
          end={height - RULER}
          frame={moment}
          beads={beads}
          onSeek={(frame) => {
            const { goTo, roll } = store.getState();
            roll(false);
            goTo(frame);
          }}
        />
        <Markers ruler={ruler} markers={footage.markers} y={height - RULER} />
      </svg>
    </div>
  );
}

/** Frames that somebody has marked: small flags on the ruler. */
function Markers({ ruler, markers, y }: { ruler: Ruler; markers: Footage['markers']; y: number }) {
  const store = useRoomStore();
  return markers.map(({ frame, name }) => {
    const x = xOf(ruler, frame);
    return (
      <g
        key={frame}
        className="ct-time-flag"
        role="button"
        tabIndex={0}
        aria-label={`${name}, frame ${frame + 1}`}
        onPointerDown={(e) => {
          e.stopPropagation();
          store.getState().goTo(frame);
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter') store.getState().goTo(frame);
        }}
      >
        <polygon points={`${x},${y} ${x},${y - 10} ${x + 7},${y - 7.5} ${x},${y - 5}`} />
        <title>{name}</title>
      </g>
    );
  });
}
