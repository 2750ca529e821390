'use client';

import { Button, InputNumber, Upload } from 'antd';
import { useState } from 'react';
import type { FloatMeaning } from '@/core/depth/distance';
import { Choice } from '../../parts/Choice';
import { SwitchRow } from '../../parts/SwitchRow';
import { useDepth, useDepthStore } from './slice';

interface Range {
  readonly near: number;
  readonly far: number;
}

/** The nearest and the farthest of what floats hold. */
function RangeRow({ range, onRange }: { readonly range: Range; onRange(range: Range): void }) {
  const field = (label: string, key: keyof Range) => (
    <label className="ct-range">
      {label}
      <InputNumber
        size="small"
        controls={false}
        value={range[key]}
        onChange={(v) => {
          if (v !== null) onRange({ ...range, [key]: v });
        }}
      />
    </label>
  );
  return (
    <div className="ct-ranges">
      {field('Nearest', 'near')}
      {field('Farthest', 'far')}
    </div>
  );
}

/** A depth picture, ready made. */
export function BringIn() {
  const store = useDepthStore();
  const source = useDepth((s) => s.document.source);
  const active = useDepth((s) => s.document.plates.find((p) => p.id === s.active && p.matte !== null));
  const [near, setNear] = useState<'white' | 'black'>('white');
  const [mend, setMend] = useState(true);
  const [values, setValues] = useState<FloatMeaning['kind']>('depth');
  const [range, setRange] = useState<Range>({ near: 1, far: 10 });
  const [progress, setProgress] = useState<number | undefined>();
  const take = async (file: File): Promise<void> => {
    setProgress(0);
    const floats: FloatMeaning = values === 'depth' ? { kind: 'depth' } : { kind: values, ...range };
    await store
      .getState()
      .importDepth({ file, near, mend, floats, plate: active?.id ?? null, onProgress: setProgress });
    setProgress(undefined);
  };
  return (
    <>
      <p className="ct-hint">
        Any size in the proportions of the picture ({source.width} × {source.height} px): PNG, TIFF, EXR, PFM. It
        replaces the whole map of <b>{active?.name ?? 'the back plate'}</b>; undo brings the old one back.
      </p>
      <Choice<'white' | 'black'>
        label="Near is"
        value={near}
        onChange={setNear}
        options={[
          { value: 'white', label: 'White' },
          { value: 'black', label: 'Black' },
        ]}
      />
      <Choice<FloatMeaning['kind']>
        label="Floats are"
        value={values}
        onChange={(kind) => {
          setValues(kind);
          if (kind !== 'depth') setRange(kind === 'distance' ? { near: 1, far: 10 } : { near: 1, far: 0.1 });
        }}
        options={[
          { value: 'depth', label: 'Depth' },
          { value: 'distance', label: 'Distance' },
          { value: 'inverse', label: 'Inverse' },
        ]}
      />
      {values !== 'depth' && <RangeRow range={range} onRange={setRange} />}
      <SwitchRow label="Mend the map" checked={mend} onChange={setMend}>
        Mend the map
      </SwitchRow>
      <p className="ct-hint">
        Smooths steps of 8 bits, sharpens softened edges, and fills many small places of 0 that stand apart from all
        else (unknown) from the farther side. Off: values stay as they are.
      </p>
      <Upload
        accept=".png,.jpg,.jpeg,.webp,.avif,.tif,.tiff,.exr,.pfm"
        showUploadList={false}
        beforeUpload={(file) => {
          void take(file);
          return false;
        }}
      >
        <Button type="primary" block loading={progress !== undefined}>
          {progress === undefined && 'Choose a depth picture'}
          {progress !== undefined && (progress < 1 ? `Sending, ${Math.round(progress * 100)} %` : 'Reading it')}
        </Button>
      </Upload>
    </>
  );
}

type Format = 'png' | 'png8' | 'tif' | 'tif32' | 'exr' | 'pfm';
const FORMATS: readonly { value: Format; label: string }[] = [
  { value: 'png', label: 'PNG 16' },
  { value: 'png8', label: 'PNG 8' },
  { value: 'tif', label: 'TIFF 16' },
  { value: 'tif32', label: 'TIFF 32' },
  { value: 'exr', label: 'EXR' },
  { value: 'pfm', label: 'PFM' },
];

/** The map as a file of its own. */
export function HandOut() {
  const id = useDepth((s) => s.shot.id);
  const active = useDepth((s) => s.document.plates.find((p) => p.id === s.active && p.matte !== null));
  const at = useDepth((s) => s.document.source.moment);
  const [format, setFormat] = useState<Format>('png');
  const [metric, setMetric] = useState(false);
  const [range, setRange] = useState<Range>({ near: 1, far: 10 });
  const floats = format === 'tif32' || format === 'exr' || format === 'pfm';
  const query = new URLSearchParams({
    as: format,
    ...(active ? { plate: active.id } : {}),
    ...(at === undefined ? {} : { moment: String(at) }),
    ...(floats && metric ? { nearest: String(range.near), farthest: String(range.far) } : {}),
  });
  return (
    <>
      <p className="ct-hint">
        The map of <b>{active?.name ?? 'the back plate'}</b> at full size, white near. The file says what its values
        mean{format === 'pfm' && ' where it can; a PFM cannot'}.
        {format === 'png8' && ' 8 bits are dithered, so that slopes stay slopes.'}
      </p>
      <Choice<Format> label="As" value={format} onChange={setFormat} options={FORMATS} />
      {floats && (
        <SwitchRow label="As distances" checked={metric} onChange={setMetric}>
          As distances
        </SwitchRow>
      )}
      {floats && metric && <RangeRow range={range} onRange={setRange} />}
      <Button type="primary" block href={`/api/shots/${id}/depth/export?${query.toString()}`}>
        Download the depth map
      </Button>
    </>
  );
}
