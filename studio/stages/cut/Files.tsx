'use client';

import { Button, Progress, Select, Upload } from 'antd';
import { useEffect, useState } from 'react';
import type { Piece } from '@/core/shot/document';
import { api, mapQuery } from '../../api';
import { Bead } from '../../parts/Bead';
import { SwitchRow } from '../../parts/SwitchRow';
import { useCut as useRoom, useCutStore as useRoomStore } from './slice';

/** Plates from files and from other shots, and where they lie. */
export function BringIn() {
  const store = useRoomStore();
  const id = useRoom((s) => s.shot.id);
  const storing = useRoom((s) => s.storing);
  const active = useRoom((s) => s.document.plates.find((p) => p.id === s.active));
  const [progress, setProgress] = useState(-1);
  const [elsewhere, setElsewhere] = useState<Awaited<ReturnType<typeof api.platesElsewhere>>['shots']>();
  useEffect(() => {
    let gone = false;
    api.platesElsewhere(id).then(
      ({ shots }) => {
        if (!gone) setElsewhere(shots);
      },
      () => {
        if (!gone) setElsewhere([]);
      },
    );
    return () => {
      gone = true;
    };
  }, [id]);
  const bring = async (file: File): Promise<void> => {
    setProgress(0);
    await store.getState().importPlates(file, setProgress);
    setProgress(-1);
  };
  return (
    <>
      {active?.piece && <Placing id={active.id} piece={active.piece} locked={active.locked} />}
      <Upload.Dragger
        className="ct-drop"
        accept=".png,.jpg,.jpeg,.webp,.avif,.tif,.tiff,.zip,.ora"
        showUploadList={false}
        disabled={storing !== 'stored' || progress >= 0}
        beforeUpload={(file) => {
          void bring(file);
          return false;
        }}
      >
        <b>Drop a file, or click</b>
        <small>A picture with transparency, an OpenRaster, or a zip of plates: that one replaces all plates</small>
      </Upload.Dragger>
      {progress >= 0 && <Progress percent={Math.round(progress * 100)} size="small" />}
      <Select
        className="ct-elsewhere"
        value={null}
        placeholder={elsewhere?.length === 0 ? 'No other shot has plates' : 'A plate of another shot'}
        disabled={!elsewhere || elsewhere.length === 0 || storing !== 'stored'}
        aria-label="A plate of another shot"
        options={elsewhere?.map((shot) => ({
          label: shot.name,
          options: shot.plates.map((p) => ({ value: `${shot.id} ${p.id}`, label: p.name })),
        }))}
        onChange={(value: string | null) => {
          if (value) {
            const [shot, plate] = value.split(' ');
            store.getState().actOnPlates('Bring in a plate', { action: 'bring', shot, plate });
          }
        }}
      />
    </>
  );
}

/** Where a brought-in plate lies, and its colours. Dragged in the picture it moves. */
function Placing({ id, piece, locked }: { id: string; piece: Piece; locked: boolean }) {
  const store = useRoomStore();
  const { width, height } = useRoom((s) => s.document.source);
  const { placement, match } = piece;
  if (locked) return <p className="ct-hint ct-warn">This plate is locked. Unlock it on its card to place it.</p>;
  const change = (part: Partial<typeof placement>): void => {
    store.getState().try({ plates: [{ id, placement: { ...placement, ...part } }] });
  };
  const keep = (): void => {
    store.getState().keep('Place a plate');
  };
  return (
    <>
      <p className="ct-hint">Drag the plate in the picture to its place.</p>
      <Bead
        label="Across"
        unit="px"
        value={placement.x}
        min={-width}
        max={2 * width}
        step={1}
        decimals={1}
        onTry={(x) => {
          change({ x });
        }}
        onKeep={keep}
      />
      <Bead
        label="Down"
        unit="px"
        value={placement.y}
        min={-height}
        max={2 * height}
        step={1}
        decimals={1}
        onTry={(y) => {
          change({ y });
        }}
        onKeep={keep}
      />
      <Bead
        label="Scale"
        unit="%"
        value={placement.scale * 100}
        min={1}
        max={1000}
        step={1}
        decimals={1}
        logarithmic
        onTry={(v) => {
          change({ scale: Math.min(100, Math.max(0.01, v / 100)) });
        }}
        onKeep={keep}
      />
      <Bead
        label="Turn"
        unit="°"
        value={placement.turn}
        min={-180}
        max={180}
        step={0.5}
        decimals={1}
        onTry={(turn) => {
          change({ turn });
        }}
        onKeep={keep}
      />
      <div className="ct-taking-acts">
        <Button
          size="small"
          aria-pressed={placement.flipAcross}
          onClick={() => {
            change({ flipAcross: !placement.flipAcross });
            keep();
          }}
        >
          Flip across
        </Button>
        <Button
          size="small"
          aria-pressed={placement.flipDown}
          onClick={() => {
            change({ flipDown: !placement.flipDown });
            keep();
          }}
        >
          Flip down
        </Button>
      </div>
      <SwitchRow
        label="Match colours to the surroundings"
        checked={match !== null}
        onChange={(on) => {
          if (on) store.getState().actOnPlates('Match colours', { action: 'match', plate: id });
          else store.getState().change('Colours as they came', { plates: [{ id, match: null }] });
        }}
      >
        Match colours to the surroundings
      </SwitchRow>
      {match && (
        <Bead
          label="Matched by"
          unit="%"
          value={match.strength * 100}
          min={0}
          max={100}
          step={1}
          onTry={(v) => {
            store.getState().try({ plates: [{ id, match: { ...match, strength: v / 100 } }] });
          }}
          onKeep={() => {
            store.getState().keep('Match colours');
          }}
        />
      )}
    </>
  );
}

/** All plates in one file, or one plate's parts. */
export function HandOut() {
  const id = useRoom((s) => s.shot.id);
  const some = useRoom((s) => s.document.plates.some((p) => p.matte !== null));
  // Of a film the plates of the frame that is seen go out.
  const moment = useRoom((s) => s.document.source.moment);
  const active = useRoom((s) => s.document.plates.find((p) => p.id === s.active && p.matte !== null));
  const to = (form: string): string =>
    `/api/shots/${id}/plates/export?form=${form}&${mapQuery({ plate: null, moment })}`;
  return (
    <>
      <p className="ct-hint">
        {some
          ? 'Every plate with picture, matte and depth. The zip can be brought back whole.'
          : 'Nothing is cut yet: the file would hold the back plate alone.'}
      </p>
      <Button block href={to('zip')}>
        Zip, same canvas
      </Button>
      <Button block href={to('trimmed')}>
        Zip, trimmed with offsets
      </Button>
      <Button block href={to('ora')}>
        OpenRaster
      </Button>
      {active && (
        <Button block href={`/api/shots/${id}/plates/matte?${mapQuery({ plate: active.id, moment })}`}>
          Matte of {active.name}, grey PNG
        </Button>
      )}
    </>
  );
}
