'use client';

import { Button } from 'antd';
import { plateKeyAt } from '@/core/shot/plateAtMoment';
import type { Plate } from '@/core/shot/document';
import { api } from '../../api';
import { CarryButton } from '../../footage/CarryButton';
import { TrustRows } from '../../footage/TrustRows';
import { useRoom, useRoomStore } from '../../room/context';
import { FrameList } from '../../time/FrameList';

/** A plate over time: the frames at which it was cut or corrected, and how it is carried to the others. */
export function OverTime() {
  const plate = useRoom((s) => s.document.plates.find((p) => p.id === s.active));
  if (!plate)
    return (
      <>
        <p className="ct-hint">
          Cut a plate at any frame: it is carried to the others as it looks there, or, where outlines alone chose it,
          point by point. Click its card to correct it over time.
        </p>
        <CarryButton />
      </>
    );
  if (plate.piece)
    return (
      <p className="ct-hint">
        <b>{plate.name}</b> was brought in: it hangs in every frame as it is.
      </p>
    );
  if (plate.keys.length === 0)
    return (
      <p className="ct-hint">
        <b>{plate.name}</b> is planned. Cut it at a frame where most of it is seen.
      </p>
    );
  return (
    <>
      <p className="ct-label">Key frames of {plate.name}</p>
      <FrameList
        label={`Key frames of ${plate.name}`}
        frames={plate.keys.map(({ frame, matte, choice }) => ({ frame, says: keySays(matte, choice) }))}
      />
      <KeyHere plate={plate} />
      <TrustRows plate={plate.id} />
      <CarryButton />
    </>
  );
}

function keySays(matte: string | null, choice: string | null): string {
  if (matte === null) return 'not seen';
  return choice === null ? 'as carried' : 'chosen';
}

/** What can be done about its key at the frame that is seen. */
function KeyHere({ plate }: { plate: Plate }) {
  const store = useRoomStore();
  const moment = useRoom((s) => s.moment);
  const trust = useRoom((s) => s.footage?.plates.find(({ id }) => id === plate.id)?.trust[s.moment]);
  const key = plateKeyAt(plate, moment);
  const act = (action: 'set' | 'drop' | 'gone') => () => {
    store.getState().plateKey(plate.id, action);
  };
  if (key)
    return (
      <>
        {key.choice !== null && <TakeUp plate={plate.id} moment={moment} />}
        {plate.keys.length > 1 && (
          <Button block onClick={act('drop')}>
            Take the key at frame {moment + 1} off
          </Button>
        )}
      </>
    );
  return (
    <>
      <p className="ct-hint">
        {typeof trust === 'number' ? (
          <>
            Carried to frame <b>{moment + 1}</b>. Set a key to correct it here.
          </>
        ) : (
          <>
            Not carried to frame <b>{moment + 1}</b> yet.
          </>
        )}
      </p>
      <Button block disabled={typeof trust !== 'number'} onClick={act('set')}>
        Set a key at frame {moment + 1}
      </Button>
      <Button block onClick={act('gone')}>
        It is not seen at frame {moment + 1}
      </Button>
    </>
  );
}

/** The choice that cut it here, in hand again: its points are moved, and it is cut anew. */
function TakeUp({ plate, moment }: { plate: string; moment: number }) {
  const store = useRoomStore();
  const shot = useRoom((s) => s.shot.id);
  return (
    <Button
      block
      onClick={() => {
        api.plateChoice(shot, plate, moment).then(
          (choice) => {
            store.getState().set({ choice, editing: undefined });
          },
          (error: unknown) => {
            store.getState().notify('error', (error as Error).message);
          },
        );
      }}
    >
      Take its choice up again
    </Button>
  );
}
