'use client';

import dynamic from 'next/dynamic';
import { useEffect } from 'react';
import { startEarly } from '../viewer/preview';
import type { RoomProps } from './Room';

// The room's own code is split off the page: the address answers at once, and the room follows.
const Room = dynamic(() => import('./Room').then((m) => m.Room), {
  ssr: false,
  loading: () => <div className="ct-opening">Opening the room</div>,
});

/** @param ahead what the room's first picture is made of: fetched while the room's code is on its way */
export function RoomLoader({ ahead, ...props }: RoomProps & { ahead: readonly string[] }) {
  useEffect(startEarly, []);
  return (
    <>
      {ahead.map((address) => (
        <link key={address} rel="prefetch" as="fetch" crossOrigin="anonymous" href={address} />
      ))}
      <Room {...props} />
    </>
  );
}
