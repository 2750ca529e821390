import { useMemo } from 'react';
import type { Finding } from '@/core/move/guard/findings';
import { findingsOf } from './found';
import { useMove } from './slice';

/** What is to be seen in the move as it stands, and of which share of it that is known. */
export function useFindings(): { readonly found: readonly Finding[]; readonly share: number } | undefined {
  const guarded = useMove((s) => s.guarded);
  const document = useMove((s) => s.document);
  return useMemo(() => {
    if (!guarded || !document.move) return undefined;
    return { found: findingsOf(guarded.frames, document, document.move), share: guarded.share };
  }, [guarded, document]);
}
