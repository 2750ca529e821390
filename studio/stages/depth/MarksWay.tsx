'use client';

import { Button, Input, Select } from 'antd';
import { useEffect } from 'react';
import type { MarkStroke } from '@/core/depth/marks/markStroke';
import { Bead } from '../../parts/Bead';
import { Choice } from '../../parts/Choice';
import { draftOf, marksBy, marksNow, paintedSince, type Marking } from './making';
import { markGrey, markName, markSays } from './markNames';
import { useParallaxNote } from './parallaxNote';
import { useDepth, useDepthStore } from './slice';

/** A few strokes of known depth, and a whole map from them. */
export function MarksWay() {
  const store = useDepthStore();
  const marking = useDepth((s) => s.marking);
  const marks = useDepth(marksNow);
  const by = useDepth(marksBy);
  const longer = useDepth((s) => Math.max(s.document.source.width, s.document.source.height));
  const note = useParallaxNote();
  const chosen = marks.find((mark) => mark.id === marking.chosen);
  const preview = useDepth((s) => s.preview);
  useEffect(() => {
    void preview?.readyForMarks();
  }, [preview]);
  // What came meanwhile is of before the marks that are on their way.
  const fetched = useDepth((s) => s.rasterTicket);
  useEffect(() => {
    const s = store.getState();
    const draft = draftOf(s);
    if (draft?.some((mark) => mark.says.kind === 'depth'))
      s.tryMake({ kind: 'marks', marks: [...draft], by: marksBy(s) }, true);
  }, [store, fetched]);
  // A trial that nobody stored ends with the way of working, and when another plate is taken in hand.
  const active = useDepth((s) => s.active);
  useEffect(
    () => () => {
      const s = store.getState();
      if (s.draft) s.tryMake(undefined);
      s.set({ draft: undefined, marking: { ...s.marking, chosen: undefined } });
    },
    [store, active],
  );
  const set = (part: Partial<Marking>): void => {
    const s = store.getState();
    s.set({ marking: { ...s.marking, ...part } });
  };
  /** Changes the mark in work, or how the next one is drawn. */
  const change = (part: (mark: MarkStroke) => MarkStroke, next: Partial<Marking>, keep: boolean): void => {
    const s = store.getState();
    if (chosen)
      s.setMarks(
        marksNow(s).map((mark) => (mark.id === chosen.id ? part(mark) : mark)),
        { keep },
      );
    set(next);
  };
  const keep = (): void => {
    const s = store.getState();
    const draft = draftOf(s);
    if (draft) s.setMarks(draft, { keep: true });
  };
  const says = chosen?.says.kind ?? marking.says;
  const depth = chosen?.says.kind === 'depth' ? chosen.says.depth : marking.depth;
  const others = marks.filter((mark) => mark.id !== chosen?.id);
  const to = chosen && chosen.says.kind !== 'depth' ? chosen.says.as : referenceOf(marking, others);
  return (
    <>
      <Choice
        label={chosen ? `${markName(marks, chosen.id)} says` : 'The next mark says'}
        value={says}
        onChange={(kind) => {
          const as = to ?? others[0]?.id;
          change((mark) => ({ ...mark, says: saying(kind, { ...marking, depth }, as) }), { says: kind }, true);
        }}
        options={[
          { value: 'depth', label: 'A depth' },
          { value: 'same', label: 'Same as' },
          { value: 'nearer', label: 'Nearer' },
        ]}
      />
      {says === 'depth' && (
        <Bead
          label="Depth"
          unit=""
          note={note(depth)}
          value={depth}
          min={0}
          max={1}
          step={0.01}
          decimals={2}
          greys
          onTry={(v) => {
            change((mark) => ({ ...mark, says: { kind: 'depth', depth: v } }), { depth: v }, false);
          }}
          onKeep={keep}
        />
      )}
      {says !== 'depth' && others.length === 0 && (
        <p className="ct-hint">Draw a mark with a depth first; this one then stands to it.</p>
      )}
      {says !== 'depth' && others.length > 0 && (
        <div className="ct-row">
          <span className="ct-label">{says === 'same' ? 'As deep as' : 'Nearer than'}</span>
          <Select
            size="small"
            aria-label={says === 'same' ? 'As deep as' : 'Nearer than'}
            value={to}
            onChange={(as) => {
              change((mark) => ({ ...mark, says: saying(says, marking, as) }), { to: as }, true);
            }}
            options={others.map((mark) => ({ value: mark.id, label: markName(marks, mark.id) }))}
          />
          <Button
            size="small"
            aria-pressed={marking.picking}
            title="Then press on a mark in the picture"
            onClick={() => {
              set({ picking: !marking.picking });
            }}
          >
            {marking.picking ? 'Press on it' : 'Pick'}
          </Button>
        </div>
      )}
      {says === 'nearer' && (
        <Bead
          label="By at least"
          unit=""
          value={chosen?.says.kind === 'nearer' ? chosen.says.by : marking.by}
          min={0}
          max={0.5}
          step={0.01}
          decimals={2}
          onTry={(v) => {
            change(
              (mark) => (mark.says.kind === 'nearer' ? { ...mark, says: { ...mark.says, by: v } } : mark),
              { by: v },
              false,
            );
          }}
          onKeep={keep}
        />
      )}
      <Bead
        label="Width"
        unit="px"
        value={chosen?.width ?? marking.width}
        min={2}
        max={Math.min(1000, Math.round(longer / 8))}
        step={1}
        logarithmic
        onTry={(width) => {
          change((mark) => ({ ...mark, width }), { width }, false);
        }}
        onKeep={keep}
      />
      <Choice
        label="The map"
        value={by}
        onChange={(way) => {
          const s = store.getState();
          set({ way });
          if (marks.length > 0) s.setMarks(marks, { keep: true, by: way });
        }}
        options={[
          { value: 'replace', label: 'From marks' },
          { value: 'correct', label: 'Bent to marks' },
        ]}
      />
      <OverPaint />
      {marks.length === 0 && (
        <p className="ct-hint">
          Draw a few strokes on the picture, each along what is equally deep: what is far, the floor near and far, the
          nearest thing. {by === 'correct' ? 'The map that is there is bent to them.' : 'The whole map follows.'}
        </p>
      )}
      {marks.length > 0 && (
        <ul className="ct-ingredients" aria-label="Marks">
          {marks.map((mark) => (
            <li key={mark.id} className={mark.id === marking.chosen ? 'on' : ''}>
              <button
                type="button"
                className="ct-ingredient"
                aria-pressed={mark.id === marking.chosen}
                onClick={() => {
                  set({ chosen: mark.id === marking.chosen ? undefined : mark.id });
                }}
              >
                <span className="ct-mark-grey" style={{ background: greyOf(markGrey(marks, mark)) }} aria-hidden />
                {markName(marks, mark.id)}
              </button>
              <span className="ct-mark-says">{markSays(marks, mark)}</span>
            </li>
          ))}
        </ul>
      )}
      {chosen && (
        <div className="ct-mark-work">
          <Input
            size="small"
            aria-label="Name of the mark"
            placeholder={markName(marks, chosen.id)}
            maxLength={40}
            defaultValue={chosen.name}
            key={chosen.id}
            onPressEnter={(e) => {
              e.currentTarget.blur();
            }}
            onBlur={(e) => {
              const name = e.target.value.trim();
              if (name !== chosen.name) change((mark) => ({ ...mark, name }), {}, true);
            }}
          />
          <Button
            size="small"
            onClick={() => {
              removeMark(store.getState(), chosen.id);
            }}
          >
            Delete
          </Button>
        </div>
      )}
    </>
  );
}

/** What was painted since stays where it is, and marks do nothing there: that is said, with the way out. */
function OverPaint() {
  const store = useDepthStore();
  const painted = useDepth((s) => paintedSince(s) !== null);
  if (!painted) return null;
  return (
    <>
      <p className="ct-hint">What was painted on this map since stays, and hides what marks say there.</p>
      <Button
        block
        size="small"
        onClick={() => {
          const s = store.getState();
          void s.make({ kind: 'marks', marks: [...marksNow(s)], by: marksBy(s), overPaint: true });
        }}
      >
        Marks over the paint
      </Button>
    </>
  );
}

export const greyOf = (v: number): string => `rgb(${v} ${v} ${v})`;

/** What the next relation is to: what was picked, or the mark with a depth that was drawn last. */
export const referenceOf = ({ to }: Marking, marks: readonly MarkStroke[]): string | undefined =>
  marks.find((mark) => mark.id === to)?.id ?? marks.findLast((mark) => mark.says.kind === 'depth')?.id;

/** What a mark says; a depth where there is nothing that it could stand to. */
export function saying(
  kind: MarkStroke['says']['kind'],
  { depth, by }: Pick<Marking, 'depth' | 'by'>,
  as: string | undefined,
): MarkStroke['says'] {
  if (kind === 'depth' || as === undefined) return { kind: 'depth', depth };
  return kind === 'same' ? { kind, as } : { kind, as, by };
}

type Seen = ReturnType<ReturnType<typeof useDepthStore>['getState']>;

/** Lets the mark in work, or else the next one, stand to another one. */
export function relateTo(s: Seen, to: string): void {
  const { marking } = s;
  s.set({ marking: { ...marking, picking: false, to } });
  const { chosen } = marking;
  if (chosen === undefined || chosen === to) return;
  const related = (mark: MarkStroke): MarkStroke =>
    mark.id === chosen && mark.says.kind !== 'depth' ? { ...mark, says: { ...mark.says, as: to } } : mark;
  s.setMarks(marksNow(s).map(related), { keep: true });
}

/** Takes a mark away; those that stood to it become marks of the depth that it had, or go with it. */
export function removeMark(s: Seen, id: string): void {
  const marks = marksNow(s);
  const gone = marks.find((mark) => mark.id === id);
  if (!gone) return;
  const rest = marks
    .filter((mark) => mark.id !== id)
    .flatMap((mark) => {
      if (mark.says.kind === 'depth' || mark.says.as !== id) return [mark];
      return gone.says.kind === 'depth' ? [{ ...mark, says: gone.says }] : [];
    });
  s.set({ marking: { ...s.marking, chosen: undefined } });
  s.setMarks(rest, { keep: true });
}
