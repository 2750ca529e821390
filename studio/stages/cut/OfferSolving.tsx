'use client';

import { Button } from 'antd';
import { useEffect, useState } from 'react';
import { useCut as useRoom, useCutStore as useRoomStore } from './slice';

/** Thinner than this share of the picture's width is fine: hair, leaves, twigs. */
const FINE = 1 / 200;
/** From so much of an edge on that is fine, solving it is offered. */
const OFFER = 0.3;
/** The band in which it is solved, of the picture's width; in steps of 2 px. */
const BAND = 1 / 130;
const REST_MS = 500;

/** Offers to solve the coverage of a choice's edge where much of it is fine. */
export function OfferSolving() {
  const store = useRoomStore();
  const choice = useRoom((s) => s.choice);
  const spare = useRoom((s) => s.spare);
  const active = useRoom((s) => s.active);
  const preview = useRoom((s) => s.preview);
  const width = useRoom((s) => s.document.source.width);
  const [fine, setFine] = useState<number | undefined>();
  const plain = choice.edge.solvePx === 0 && choice.edge.featherPx === 0;
  useEffect(() => {
    setFine(undefined);
    if (!plain) return;
    let gone = false;
    const timer = setTimeout(() => {
      void preview?.fineness({ choice, spare, active }, width * FINE).then((share) => {
        if (!gone) setFine(share);
      });
    }, REST_MS);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [preview, choice, spare, active, width, plain]);
  if (fine === undefined || fine < OFFER) return null;
  return (
    <div className="ct-offer" role="status">
      <p className="ct-hint">
        <b>{Math.round(fine * 100)} % of this edge is fine:</b> hair, leaves or twigs.
      </p>
      <Button
        size="small"
        onClick={() => {
          const solvePx = Math.max(4, Math.round((width * BAND) / 2) * 2);
          store.getState().set({ choice: { ...choice, edge: { ...choice.edge, solvePx } } });
        }}
      >
        Solve its coverage
      </Button>
    </div>
  );
}
