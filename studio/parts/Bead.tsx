'use client';

import { InputNumber, Slider } from 'antd';
import { memo, useId, useRef } from 'react';
import { useLive } from './useLive';

interface Props {
  readonly label: string;
  readonly unit: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly decimals?: number;
  /** Values are spread evenly by their logarithm: fine at the small end. */
  readonly logarithmic?: boolean;
  /** Draws the string as the greys of depth. */
  readonly greys?: boolean;
  readonly note?: string;
  onTry(value: number): void;
  onKeep?(): void;
}

/** String with bead: a label, a value with its unit that can be typed, and a string whose bead is dragged. */
export function Bead({ onTry, onKeep, ...shown }: Props) {
  // The string is drawn anew only when what it shows changes; whoever is called back is the newest all the same.
  const latest = useRef({ onTry, onKeep });
  latest.current = { onTry, onKeep };
  const calls = useRef({
    onTry: (v: number) => {
      latest.current.onTry(v);
    },
    onKeep: () => {
      latest.current.onKeep?.();
    },
  });
  return <BeadOnString {...shown} {...calls.current} />;
}

const BeadOnString = memo(function BeadOnString({
  label,
  unit,
  value: held,
  min,
  max,
  step,
  decimals = 0,
  logarithmic = false,
  greys = false,
  note,
  onTry,
  onKeep,
}: Props) {
  const id = useId();
  const [value, live, letGo] = useLive(held);
  const attempt = (v: number): void => {
    live(v);
    onTry(v);
  };
  const keep = (): void => {
    onKeep?.();
    letGo();
  };
  const to = (v: number): number => (logarithmic ? Math.log(v / min) / Math.log(max / min) : v);
  const from = (p: number): number => (logarithmic ? Math.round((min * (max / min) ** p) / step) * step : p);
  return (
    <div className={`ct-bead${greys ? ' ct-bead-greys' : ''}`}>
      <label htmlFor={id}>{label}</label>
      <span className="ct-bead-value">
        <InputNumber
          id={id}
          size="small"
          variant="borderless"
          controls={false}
          value={Number(value.toFixed(decimals))}
          min={min}
          max={max}
          step={step}
          precision={decimals}
          aria-label={`${label}, ${unit}`}
          onChange={(v) => {
            if (v !== null) attempt(v);
          }}
          onBlur={keep}
          onPressEnter={keep}
        />
        <span className="ct-unit">
          {unit}
          {note ? ` ${note}` : ''}
        </span>
      </span>
      <Slider
        min={logarithmic ? 0 : min}
        max={logarithmic ? 1 : max}
        step={logarithmic ? 0.001 : step}
        value={to(Math.min(max, Math.max(min, value)))}
        tooltip={{ open: false }}
        ariaLabelForHandle={label}
        ariaValueTextFormatterForHandle={() => `${value.toFixed(decimals)} ${unit}`}
        onChange={(v) => {
          attempt(from(v));
        }}
        onChangeComplete={keep}
      />
    </div>
  );
});
