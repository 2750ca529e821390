'use client';

import { InputNumber, Select } from 'antd';
import { makerOf } from '@/core/recipes';
import { eyeSize } from '@/core/recipes/video';
import { footageRange, handedSize, rangeOf, type ShotDocument } from '@/core/shot/document';
import { secondsOf } from '@/core/time/rate';
import { figure } from '../../../numbers';
import { Bead } from '../../../parts/Bead';
import { Choice } from '../../../parts/Choice';
import type { WayOfWorking } from '../../../parts/Ways';
import { useRoom, useRoomStore } from '../../../room/context';
import { RenderButton, useRecipe } from './form';

const PACKINGS = [
  { value: 'centre', label: 'One eye: the camera' },
  { value: 'left', label: 'Left eye' },
  { value: 'right', label: 'Right eye' },
  { value: 'side-by-side', label: 'Side by side' },
  { value: 'over-under', label: 'Over-under' },
  { value: 'red-cyan-least-squares', label: 'Red-cyan, least squares' },
  { value: 'red-cyan-half-colour', label: 'Red-cyan, half colour' },
  { value: 'red-cyan-grey', label: 'Red-cyan, grey' },
  { value: 'red-cyan-colour', label: 'Red-cyan, full colour' },
] as const;
const SIZES = [
  { value: 'source', label: 'As the source' },
  { value: '1080p', label: '1920 × 1080' },
  { value: '4k', label: '3840 × 2160' },
  { value: 'square', label: 'Square, 1080' },
  { value: 'upright', label: 'Upright, 1080 × 1920' },
  { value: 'custom', label: 'Other' },
] as const;

function Video() {
  const [recipe, change] = useRecipe('video');
  const room = useRoomStore().getState();
  const attempt = (part: Partial<typeof recipe>): void => {
    room.try({ recipes: { video: { ...recipe, ...part } } });
  };
  const document = useRoom((s) => s.document);
  const { move, footage } = document;
  const handed = handedSize(document);
  const each = eyeSize(recipe, handed);
  const { width, height } = makerOf(recipe).size(recipe, handed);
  const scale = Math.max(each.width / handed.width, each.height / handed.height);
  const cut = { across: handed.width - each.width / scale, down: handed.height - each.height / scale };
  const side = (key: 'width' | 'height') => (
    <InputNumber
      size="small"
      aria-label={`Video ${key}, px`}
      value={recipe.custom[key]}
      min={16}
      max={8192}
      precision={0}
      controls={false}
      onChange={(v) => {
        if (v !== null) change({ custom: { ...recipe.custom, [key]: v } }, 'Video size');
      }}
    />
  );
  const stretch = stretchOf(document);
  if (!stretch)
    return (
      <p className="ct-hint">
        Nothing moves in this shot. Choose a ready move in <b>Move</b>; it is handed over here.
      </p>
    );
  const { frames, seconds } = stretch;
  return (
    <>
      <div className="ct-field ct-field-wide">
        <label htmlFor="video-packing">As</label>
        <Select
          id="video-packing"
          value={recipe.packing}
          options={[...PACKINGS]}
          onChange={(packing) => {
            change({ packing }, 'Packing');
          }}
        />
      </div>
      <div className="ct-field ct-field-wide">
        <label htmlFor="video-size">Size</label>
        <Select
          id="video-size"
          value={recipe.size}
          options={[...SIZES]}
          onChange={(size) => {
            change({ size }, 'Video size');
          }}
        />
      </div>
      {recipe.size === 'custom' && (
        <div className="ct-field ct-field-three">
          <span>Px</span>
          {side('width')}
          {side('height')}
        </div>
      )}
      <Choice
        label="File"
        value={recipe.format}
        options={[
          { value: 'mp4', label: 'MP4' },
          { value: 'webm', label: 'WebM' },
          { value: 'gif', label: 'GIF' },
          { value: 'png', label: 'PNG frames' },
        ]}
        onChange={(format) => {
          change({ format }, 'Video file');
        }}
      />
      {recipe.format !== 'gif' && recipe.format !== 'png' && (
        <Bead
          label="Quality"
          unit="of 100"
          value={recipe.quality}
          min={0}
          max={100}
          step={1}
          onTry={(quality) => {
            attempt({ quality: Math.round(quality) });
          }}
          onKeep={() => {
            room.keep('Video quality');
          }}
        />
      )}
      {move && (
        <Bead
          label="Shutter"
          unit="°"
          value={recipe.shutter}
          min={0}
          max={360}
          step={5}
          note={recipe.shutter === 0 ? 'sharp' : 'blurs motion'}
          onTry={(shutter) => {
            attempt({ shutter });
          }}
          onKeep={() => {
            room.keep('Shutter');
          }}
        />
      )}
      <p className="ct-hint">
        {figure(width)} × {figure(height)} px, {frames} frames,{' '}
        {`${figure(seconds, 1)}\u00a0s${footage?.sound ? ', with its sound' : ''}. `}
        {cut.across >= 1 && `${figure(cut.across)} px of the width are cut off. `}
        {cut.down >= 1 && `${figure(cut.down)} px of the height are cut off.`}
      </p>
      <RenderButton recipe={recipe}>Render video</RenderButton>
    </>
  );
}

/** How much is handed over: of footage what lies between its posts; undefined where nothing moves. */
function stretchOf({ footage, move }: ShotDocument): { readonly frames: number; readonly seconds: number } | undefined {
  if (footage) {
    const { first, last } = footageRange(footage);
    const frames = last - first + 1;
    return { frames, seconds: (frames * footage.rate.denominator) / footage.rate.numerator };
  }
  if (!move) return undefined;
  const { first, last } = rangeOf(move);
  return { frames: last - first + 1, seconds: secondsOf(last - first + 1, move.fps) };
}

export const video: WayOfWorking = { key: 'video', name: 'Video', does: 'the move, or the film', Way: Video };
