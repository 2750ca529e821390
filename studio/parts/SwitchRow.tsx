'use client';

import { Switch } from 'antd';
import type { ReactNode } from 'react';

interface Props {
  /** Its name for those who do not see it. */
  readonly label: string;
  readonly checked: boolean;
  /** @default as large as the others */
  readonly size?: 'small';
  /** What stands beside it. */
  readonly children: ReactNode;
  onChange(checked: boolean): void;
}

/** A switch with what it does beside it. */
export function SwitchRow({ label, checked, size, children, onChange }: Props) {
  return (
    <label className="ct-switch-row">
      <Switch {...(size && { size })} checked={checked} aria-label={label} onChange={onChange} /> {children}
    </label>
  );
}
