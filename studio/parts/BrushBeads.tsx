'use client';

import { Bead } from './Bead';

/** What every round brush has; hardness and strength 0 to 1. */
interface RoundBrush {
  readonly size: number;
  readonly hardness: number;
  readonly strength: number;
}

interface Props {
  readonly brush: RoundBrush;
  /** Largest size, px. */
  readonly most: number;
  /** @default true */
  readonly strength?: boolean;
  onTry(part: Partial<RoundBrush>): void;
}

/** A brush's size, hardness and, where it has one, strength. */
export function BrushBeads({ brush, most, strength = true, onTry }: Props) {
  return (
    <>
      <Bead
        label="Size"
        unit="px"
        value={brush.size}
        min={1}
        max={most}
        step={1}
        logarithmic
        onTry={(size) => {
          onTry({ size: Math.max(1, size) });
        }}
      />
      <Bead
        label="Hardness"
        unit="%"
        value={brush.hardness * 100}
        min={0}
        max={100}
        step={1}
        onTry={(v) => {
          onTry({ hardness: v / 100 });
        }}
      />
      {strength && (
        <Bead
          label="Strength"
          unit="%"
          value={brush.strength * 100}
          min={1}
          max={100}
          step={1}
          onTry={(v) => {
            onTry({ strength: v / 100 });
          }}
        />
      )}
    </>
  );
}
