'use client';

import { useEffect, useRef } from 'react';
import { wholePlace, addressesIn, sizeOf } from '@/compute/layer/addresses';
import { useDepth } from './slice';

/** Longest side of a small picture, px. */
const SIDE = 128;

/** A stored depth map as a small grey picture. @param fits it is of the canvas's size */
export function DepthThumb({ revision, fits }: { readonly revision: string; readonly fits: boolean }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const id = useDepth((s) => s.shot.id);
  const { width, height } = useDepth((s) => s.document.source);
  const place = wholePlace({ width, height }, SIDE);
  const size = sizeOf(place);
  useEffect(() => {
    if (!fits) return undefined;
    const gone = new AbortController();
    const draw = async (): Promise<void> => {
      const answer = await fetch(addressesIn(id, wholePlace({ width, height }, SIDE)).depth(revision), {
        signal: gone.signal,
      });
      if (!answer.ok || !answer.body) return;
      const raw = await new Response(answer.body.pipeThrough(new DecompressionStream('gzip'))).arrayBuffer();
      const context = canvas.current?.getContext('2d');
      const depth = new Uint16Array(raw);
      if (!context || !canvas.current) return;
      const image = context.createImageData(canvas.current.width, canvas.current.height);
      for (let i = 0; i < depth.length; i++) image.data.set([depth[i] >> 8, depth[i] >> 8, depth[i] >> 8, 255], i * 4);
      context.putImageData(image, 0, 0);
    };
    // A small picture that does not come is left out.
    draw().catch(() => undefined);
    return () => {
      gone.abort();
    };
  }, [id, width, height, revision, fits]);
  return <canvas ref={canvas} className="ct-step-thumb" width={size.width} height={size.height} aria-hidden />;
}
