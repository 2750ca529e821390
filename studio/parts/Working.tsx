'use client';

import { MinusOutlined, PlusOutlined } from '@ant-design/icons';
import type { ReactNode } from 'react';

interface Props { readonly name: string; readonly does: string; readonly open: boolean; onOpen(): void; readonly children: ReactNode }

/** A way of working: its name and what it does; opened, a card with its few options. */
export function Working({ name, does, open, onOpen, children }: Props) {
  if (!open) {
    return (
      <button type="button" className="ct-working-row" onClick={onOpen} aria-expanded={false}>
        <span><b>{name}</b><small>{does}</small></span>
        <PlusOutlined aria-hidden />
      </button>
    );
  }
  return (
    <section className="ct-working" aria-label={name}>
      <header><h2>{name}</h2><MinusOutlined aria-hidden /></header>
      {children}
    </section>
  );
}
