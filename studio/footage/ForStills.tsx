'use client';

import { useRoom } from '../room/context';

/** Says, in a shot that is a film, that a stage works on stills. */
export function ForStills() {
  const moves = useRoom((s) => s.document.footage !== null);
  if (!moves) return null;
  return (
    <p className="ct-hint ct-for-stills">
      This shot is a film. Plates, fills and a wider canvas are for stills so far; depth over time is made in{' '}
      <b>Depth</b>.
    </p>
  );
}
