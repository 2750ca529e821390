'use client';

import { Button, Input } from 'antd';
import { useState } from 'react';
import { api } from '../api';
import { figure } from '../numbers';
import { Working } from '../parts/Working';
import { useRoom, useRoomStore } from '../room/context';

/** What came, unchanged; and the shot's name. */
export function SourceStage() {
  const store = useRoomStore();
  const opened = useRoom((s) => s.opened.source);
  const source = useRoom((s) => s.document.source);
  const { id, name } = useRoom((s) => s.shot);
  const [typed, setTyped] = useState(name);
  const open = (which: string): void => {
    store.getState().set({ opened: { ...store.getState().opened, source: which } });
  };
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
    <>
      <div className="ct-stage-head">
        <h1>Source</h1>
        <p>The picture as it came. It is never changed; everything else is made from it.</p>
      </div>
      <Working
        name="What came"
        does="file, size, colours"
        open={opened === 'came'}
        onOpen={() => {
          open('came');
        }}
      >
        <dl className="ct-facts">
          <div>
            <dt>File</dt>
            <dd title={source.fileName}>{source.fileName}</dd>
          </div>
          <div>
            <dt>Size</dt>
            <dd>
              {figure(source.width)} × {figure(source.height)} <span>px</span>
            </dd>
          </div>
          <div>
            <dt>Pixels</dt>
            <dd>
              {figure((source.width * source.height) / 1e6, 2)} <span>megapixels</span>
            </dd>
          </div>
          <div>
            <dt>Depth of colour</dt>
            <dd>
              {source.bits} <span>bits a channel</span>
            </dd>
          </div>
          <div>
            <dt>Transparency</dt>
            <dd>{source.hasAlpha ? 'yes' : 'none'}</dd>
          </div>
        </dl>
        {source.told !== '' && <p className="ct-hint">When it came in: {source.told}.</p>}
        <Button block href={`/api/shots/${id}/source`}>
          Download the file as it came
        </Button>
      </Working>
      <Working
        name="Name"
        does="what this shot is called"
        open={opened === 'name'}
        onOpen={() => {
          setTyped(name);
          open('name');
        }}
      >
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
      </Working>
    </>
  );
}
