'use client';

import dynamic from 'next/dynamic';
import type { RoomProps } from './Room';

// The room's own code is split off the page: the address answers at once, and the room follows.
const Room = dynamic(() => import('./Room').then((m) => m.Room), {
  ssr: false,
  loading: () => <div className="ct-opening">Opening the room</div>,
});

export function RoomLoader(props: RoomProps) {
  return <Room {...props} />;
}
