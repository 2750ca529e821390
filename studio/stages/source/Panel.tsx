'use client';

import { Button, Input } from 'antd';
import { useState } from 'react';
import { api } from '../../api';
import { TimeWay } from '../../footage/TimeWay';
import { figure } from '../../numbers';
import type { WayOfWorking } from '../../parts/Ways';
import { useRoom, useRoomStore } from '../../room/context';

export const WAYS: readonly WayOfWorking[] = [
  { key: 'came', name: 'What came', does: 'file, size, colours', Way: WhatCame },
  { key: 'time', name: 'Time', does: 'in and out, marks, cuts', Way: TimeWay, moving: true },
  { key: 'name', name: 'Name', does: 'what this shot is called', Way: Name },
];

/** What came, unchanged; and the shot's name. */
export function Head() {
  const moves = useRoom((s) => s.document.footage !== null);
  return (
    <div className="ct-stage-head">
      <h1>Source</h1>
      <p>{moves ? 'The film' : 'The picture'} as it came. It is never changed; everything else is made from it.</p>
    </div>
  );
}

function WhatCame() {
  const { fileName, width, height, bits, hasAlpha, told: notes } = useRoom((s) => s.document.source);
  const id = useRoom((s) => s.shot.id);
  return (
    <>
      <dl className="ct-facts">
        <div>
          <dt>File</dt>
          <dd title={fileName}>{fileName}</dd>
        </div>
        <div>
          <dt>Size</dt>
          <dd>
            {figure(width)} × {figure(height)} <span>px</span>
          </dd>
        </div>
        <Moving />
        <div>
          <dt>Pixels</dt>
          <dd>
            {figure((width * height) / 1e6, 2)} <span>megapixels</span>
          </dd>
        </div>
        <div>
          <dt>Colours</dt>
          <dd>
            {bits} <span>bits a channel</span>
          </dd>
        </div>
        <div>
          <dt>Transparency</dt>
          <dd>{hasAlpha ? 'yes' : 'none'}</dd>
        </div>
      </dl>
      {notes !== '' && <p className="ct-hint">When it came in: {notes}.</p>}
      <Button block href={`/api/shots/${id}/source`}>
        Download the file as it came
      </Button>
    </>
  );
}

/** What moving pictures have beside that. */
function Moving() {
  const footage = useRoom((s) => s.document.footage);
  if (!footage) return null;
  const { numerator, denominator } = footage.rate;
  return (
    <>
      <div>
        <dt>Frames</dt>
        <dd>
          {figure(footage.frames)} <span>at {Math.round((1000 * numerator) / denominator) / 1000} a second</span>
        </dd>
      </div>
      <div>
        <dt>Length</dt>
        <dd>
          {figure((footage.frames * denominator) / numerator, 2)} <span>s</span>
        </dd>
      </div>
      <div>
        <dt>Sound</dt>
        <dd>
          {footage.sound ? (
            <>
              {figure(footage.sound.seconds, 1)} <span>s, {footage.sound.codec}</span>
            </>
          ) : (
            'none'
          )}
        </dd>
      </div>
    </>
  );
}

function Name() {
  const store = useRoomStore();
  const { id, name } = useRoom((s) => s.shot);
  const [typed, setTyped] = useState(name);
  const rename = (): void => {
    const next = typed.trim();
    if (next === '' || next === name) {
      setTyped(name);
      return;
    }
    api.changeShot(id, { name: next }).then(
      () => store.getState().refresh(),
      (e: unknown) => {
        setTyped(name);
        store.getState().notify('error', (e as Error).message);
      },
    );
  };
  return (
    <Input
      value={typed}
      maxLength={120}
      aria-label="Name of the shot"
      onChange={(e) => {
        setTyped(e.target.value);
      }}
      onPressEnter={rename}
      onBlur={rename}
    />
  );
}
