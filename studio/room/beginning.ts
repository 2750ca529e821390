import { atMoment } from '@/core/shot/atMoment';
import { footageRange } from '@/core/shot/document';
import type { RenderSummary, ShotState } from '../api';
import { STAGES } from '../stages';
import { NO_CHOICE, type RoomValues } from './core';

/** How a room begins, beside what its stages begin with. */
export function beginning(shot: ShotState, renders: RenderSummary[], flat: boolean): RoomValues {
  // A film opens where its part begins.
  const moment = shot.document.footage ? footageRange(shot.document.footage).first : 0;
  const document = atMoment(shot.document, moment);
  const untouched = flat && document.plates.length === 0;
  const first = STAGES.find((stage) => stage.beginsWith?.({ untouched })) ?? STAGES[0];
  return {
    shot,
    renders,
    document,
    untouched,
    stage: first.key,
    opened: Object.fromEntries(STAGES.map((stage) => [stage.key, stage.opens ?? stage.ways[0].key])),
    ways: Object.fromEntries(STAGES.map((stage) => [stage.key, stage.seen])),
    flipped: false,
    markReveal: false,
    depthStrength: 0.6,
    depthShown: 'contours',
    contourPx: null,
    lightDeg: 315,
    unit: 'px',
    board: 'cards',
    active: null,
    choice: NO_CHOICE,
    working: undefined,
    workLook: null,
    solving: undefined,
    storing: 'stored',
    refused: [],
    ownRevision: document.depth.revision,
    unstored: [],
    hands: [],
    depthTicket: 0,
    trialTicket: 0,
    rasterTicket: 0,
    hoverDepth: undefined,
    closer: false,
    underHand: false,
    looks: 0,
    storedAt: shot.changedAt,
    revealedShare: -1,
    notice: undefined,
    preview: undefined,
    showFrame: undefined,
    moment,
    rolls: false,
    footage: undefined,
    trustLimit: 0.6,
    lookAt: undefined,
  };
}
