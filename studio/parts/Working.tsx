'use client';

import { MinusOutlined, PlusOutlined } from '@ant-design/icons';
import type { ReactNode } from 'react';

interface Props {
  /** Where there are many ways, closed ones are one line. */
  readonly compact?: boolean;
  readonly name: string;
  readonly does: string;
  readonly open: boolean;
  onOpen(): void;
  readonly children: ReactNode;
}

/** A way of working: its name and what it does; opened, a card with its few options. */
export function Working({ compact = false, name, does, open, onOpen, children }: Props) {
  if (!open) {
    return (
      <button
        type="button"
        className={compact ? 'ct-working-row compact' : 'ct-working-row'}
        onClick={onOpen}
        aria-expanded={false}
        title={compact ? does : undefined}
      >
        <span>
          <b>{name}</b>
          {!compact && <small>{does}</small>}
        </span>
        <PlusOutlined aria-hidden />
      </button>
    );
  }
  return (
    <section className="ct-working" aria-label={name}>
      <header>
        <h2>{name}</h2>
        <MinusOutlined aria-hidden />
      </header>
      {children}
    </section>
  );
}
