'use client';

import { Button, Slider, Switch } from 'antd';
import { figure } from '../numbers';
import { DEPTH_SHOWN, isFlat } from '@/compute/look';
import { RollRow } from '../footage/RollRow';
import { stageOf } from '../stages';
import { contourStep } from '../viewer/contours';
import type { CameraControl } from '../viewer/useCamera';
import { useRoom, useRoomStore } from './context';

/** What belongs to the way to see, what the eyes reveal, and the zoom. Each part follows only what it shows. */
export function Foot({ camera }: { camera: CameraControl | undefined }) {
  const { Foot: Own } = stageOf(useRoom((s) => s.stage));
  const way = useRoom((s) => s.ways[s.stage]);
  const note = stageOf(useRoom((s) => s.stage)).pictureNote ?? 'the source as it came';
  const eyes = !isFlat(way);
  const filmed = useRoom((s) => s.document.footage !== null) && !Own;
  // Whatever is drawn in another manner has no contours.
  const contours = useRoom((s) => 'contourPx' in stageOf(s.stage).lens(s as never));
  return (
    <footer className="ct-foot">
      {Own && <Own />}
      {filmed && <RollRow />}
      {way === 'depth-over-picture' && contours && <Contours />}
      {!Own && !filmed && way === 'picture' && <span>{note}</span>}
      {way === 'depth' && !filmed && <span>white is near, black is far</span>}
      {!Own && !filmed && eyes && (
        <>
          <Share />
          <MarkReveal />
        </>
      )}
      {!Own && !filmed && (way === 'left' || way === 'right') && (
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

/** Steps of parallax that contours and bands may have, px; null: a round one of the budget. */
const STEPS = [null, 0.5, 1, 2, 4, 8, 16] as const;

function Contours() {
  const set = useRoomStore().getState().set;
  const strength = useRoom((s) => s.depthStrength);
  const shown = useRoom((s) => s.depthShown);
  const chosen = useRoom((s) => s.contourPx);
  const light = useRoom((s) => s.lightDeg);
  const step = useRoom((s) => s.contourPx ?? contourStep(s.document.budget));
  const filmed = useRoom((s) => s.document.footage !== null);
  return (
    <>
      {filmed && (
        // The film's own controls stand beside it: one word that goes on to the next.
        <button
          type="button"
          className="ct-shown-step"
          aria-label="Depth shown in another way"
          title="Depth shown in another way"
          onClick={() => {
            set({ depthShown: DEPTH_SHOWN[(DEPTH_SHOWN.indexOf(shown) + 1) % DEPTH_SHOWN.length] });
          }}
        >
          {shown}
        </button>
      )}
      {!filmed && (
        <span className="ct-shown" role="radiogroup" aria-label="Depth is shown as">
          {DEPTH_SHOWN.map((way) => (
            <button
              key={way}
              type="button"
              role="radio"
              aria-checked={way === shown}
              className={way === shown ? 'on' : ''}
              onClick={() => {
                set({ depthShown: way });
              }}
            >
              {way}
            </button>
          ))}
        </span>
      )}
      <span>
        every{' '}
        <button
          type="button"
          className="ct-shown-step"
          aria-label="Another step of parallax"
          title="Another step of parallax"
          onClick={() => {
            set({ contourPx: STEPS[(STEPS.findIndex((v) => v === chosen) + 1) % STEPS.length] });
          }}
        >
          {figure(step, step < 1 ? 1 : 0)} px
        </button>
      </span>
      {shown === 'relief' && (
        <span>
          light{' '}
          <button
            type="button"
            className="ct-shown-step"
            aria-label="Light from another side"
            title="Light from another side"
            onClick={() => {
              set({ lightDeg: (light + 45) % 360 });
            }}
          >
            {light}°
          </button>
        </span>
      )}
      <label className={`ct-foot-strength${filmed ? ' short' : ''}`}>
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
