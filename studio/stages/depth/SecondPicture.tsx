'use client';

import { Button, Upload } from 'antd';
import { useState } from 'react';
import { useDepth, useDepthStore } from './slice';

/** Depth from a second photograph of the same scene. */
export function SecondPicture() {
  const store = useDepthStore();
  const { width, height } = useDepth((s) => s.document.source);
  const working = useDepth((s) => s.working);
  const [sending, setSending] = useState<number | undefined>();
  const take = async (file: File): Promise<void> => {
    setSending(0);
    await store.getState().matchPair(file, setSending);
    setSending(undefined);
  };
  return (
    <>
      <p className="ct-hint">
        A photograph of the same scene, taken a step to the <b>right</b>, of the same size ({width} × {height} px): what
        is the same lies in the same row. Both are matched; what only one of them shows is filled from the farther side.
      </p>
      <Upload
        accept=".png,.jpg,.jpeg,.webp,.avif,.tif,.tiff"
        showUploadList={false}
        beforeUpload={(file) => {
          void take(file);
          return false;
        }}
      >
        <Button type="primary" block loading={sending !== undefined}>
          {sending === undefined && 'Choose the right photograph'}
          {sending !== undefined && sending < 1 && `Sending, ${Math.round(sending * 100)} %`}
          {sending === 1 && `Matching, ${Math.round((working ?? 0) * 100)} %`}
        </Button>
      </Upload>
      {sending === 1 && (
        <Button
          block
          onClick={() => {
            store.getState().stopWork();
          }}
        >
          Stop
        </Button>
      )}
    </>
  );
}
