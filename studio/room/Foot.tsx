'use client';

import { Button, Slider, Switch } from 'antd';
import { figure } from '../numbers';
import { contourStep } from '../viewer/usePreview';
import type { CameraControl } from '../viewer/useCamera';
import { useRoom, useRoomStore } from './context';

/** What belongs to the way to see, what the eyes reveal, and the zoom. Each part follows only what it shows. */
export function Foot({ camera }: { camera: CameraControl | undefined }) {
  const way = useRoom((s) => s.ways[s.stage]);
  const stage = useRoom((s) => s.stage);
  const eyes = way !== 'picture' && way !== 'depth' && way !== 'depth-over-picture';
  return (
    <footer className="ct-foot">
      {way === 'depth-over-picture' && <Contours />}
      {way === 'picture' &&
        (stage === 'fill' ? (
          <span>striped: uncovered and open; within a pale line: filled</span>
        ) : (
          <span>the source as it came</span>
        ))}
      {way === 'depth' && <span>white is near, black is far</span>}
      {eyes && (
        <>
          <Share />
          <MarkReveal />
        </>
      )}
      {(way === 'left' || way === 'right') && (
        <span>
          hold <kbd>E</kbd> for the other eye
        </span>
      )}
      <span className="ct-zoom">
        Zoom <b>{camera ? figure(camera.camera.zoom * (globalThis.devicePixelRatio || 1) * 100) : '…'} %</b>
        <Button type="link" size="small" onClick={() => camera?.fit()} disabled={camera?.fits}>
          fit
        </Button>
        <Button type="link" size="small" onClick={() => camera?.toPixels()}>
          pixels
        </Button>
      </span>
    </footer>
  );
}

function Contours() {
  const set = useRoomStore().getState().set;
  const strength = useRoom((s) => s.depthStrength);
  const step = useRoom((s) => contourStep(s.document.budget.farPx - s.document.budget.nearPx));
  return (
    <>
      <span>
        contours every <b>{figure(step, step < 1 ? 1 : 0)} px</b>, ink on the screen plane
      </span>
      <label className="ct-foot-strength">
        depth <b>{Math.round(strength * 100)} %</b>
        <Slider
          min={0}
          max={1}
          step={0.05}
          value={strength}
          onChange={(v) => {
            set({ depthStrength: v });
          }}
          tooltip={{ open: false }}
          ariaLabelForHandle="Strength of depth over the picture"
        />
      </label>
    </>
  );
}

function Share() {
  const share = useRoom((s) => s.revealedShare);
  return (
    <span>
      revealed <b data-testid="revealed">{share < 0 ? '…' : `${figure(share * 100, 2)} %`}</b> of the pixels
    </span>
  );
}

function MarkReveal() {
  const set = useRoomStore().getState().set;
  const mark = useRoom((s) => s.markReveal);
  return (
    <label className="ct-foot-switch">
      <Switch
        checked={mark}
        onChange={(v) => {
          set({ markReveal: v });
        }}
        aria-label="Mark what is revealed"
      />{' '}
      mark them
    </label>
  );
}
