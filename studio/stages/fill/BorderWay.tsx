'use client';

import { Button } from 'antd';
import { useEffect, useState } from 'react';
import { BORDER_METHODS, type BorderMethod } from '@/core/inpaint/extendBorder';
import type { Coverage } from '@/core/fill/coverage';
import { api } from '../../api';
import { figure } from '../../numbers';
import { Bead } from '../../parts/Bead';
import { Choice } from '../../parts/Choice';
import { Underway } from '../../parts/Underway';
import { useFill as useRoom, useFillStore as useRoomStore } from './slice';

const WORDS: Record<BorderMethod, string> = { mirror: 'Mirror', stretch: 'Stretch', texture: 'Texture' };

/** Whether any view runs out of picture at the frame's edges, and more canvas that cures it. */
export function BorderWay() {
  const store = useRoomStore();
  const id = useRoom((s) => s.shot.id);
  const head = useRoom((s) => s.shot.head);
  const storing = useRoom((s) => s.storing);
  const views = useRoom((s) => s.behind.views);
  const { source, frame } = useRoom((s) => s.document);
  const [found, setFound] = useState<Coverage | undefined>();
  const [method, setMethod] = useState<BorderMethod>('mirror');
  const [percent, setPercent] = useState(2);
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    let gone = false;
    setFound(undefined);
    if (storing === 'stored')
      api.coverage(id, views).then(
        (c) => {
          if (!gone) setFound(c);
        },
        () => undefined,
      );
    return () => {
      gone = true;
    };
  }, [id, head, views, storing]);
  const extend = async (left: number, right: number, top: number, bottom: number): Promise<void> => {
    setBusy(true);
    await store.getState().extendBorder({ left, right, top, bottom, method, seed: 1 });
    setBusy(false);
  };
  const px = Math.round((source.width * percent) / 100);
  const dry = found && (found.left > 0 || found.right > 0);
  return (
    <>
      <p className={found && dry ? 'ct-hint ct-warn' : 'ct-hint'} role="status">
        {!found && `Looking at the edges of ${views} views.`}
        {found && dry && (
          <>
            <b>Views run out of picture:</b> {figure(found.left)} px at the left, {figure(found.right)} px at the right.
          </>
        )}
        {found && !dry && `No view runs out of picture${frame ? ' within the frame' : ''}.`}
      </p>
      <Choice<BorderMethod>
        label="Extended by"
        value={method}
        onChange={setMethod}
        options={BORDER_METHODS.map((value) => ({ value, label: WORDS[value] }))}
      />
      {dry && (
        <Button
          type="primary"
          block
          loading={busy}
          disabled={storing !== 'stored'}
          onClick={() => {
            void extend(found.left, found.right, 0, 0);
          }}
        >
          Extend by just enough
        </Button>
      )}
      <Bead
        label="Or on all sides by"
        unit="%"
        value={percent}
        min={0}
        max={25}
        step={0.5}
        decimals={1}
        onTry={setPercent}
      />
      <Bead
        label="that is"
        unit="px"
        value={px}
        min={0}
        max={Math.round(source.width / 4)}
        step={1}
        onTry={(v) => {
          setPercent((100 * v) / source.width);
        }}
      />
      <Button
        block
        loading={busy && !dry}
        disabled={storing !== 'stored' || px < 1}
        onClick={() => {
          void extend(px, px, px, px);
        }}
      >
        Extend the canvas
      </Button>
      <Underway of="canvas" />
      {frame && (
        <p className="ct-hint">
          What is handed over is cropped to the frame of {figure(frame.width)} × {figure(frame.height)} px. Undo takes
          the canvas back.
        </p>
      )}
    </>
  );
}
