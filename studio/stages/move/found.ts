import { findings, type Finding, type GuardedFrame } from '@/core/move/guard/findings';
import { JUDDER_WIDTH } from '@/core/move/speed';
import { drawnPlates, handedSize, type MovePart, type ShotDocument } from '@/core/shot/document';
import { comfortPx } from '@/core/stereo/units';
import { figure } from '../../numbers';

/** What is to be seen in a move, from what the guard knows of its frames. */
export function findingsOf(frames: readonly GuardedFrame[], document: ShotDocument, move: MovePart): Finding[] {
  const { width } = handedSize(document);
  return findings(frames, {
    width,
    comfort: comfortPx(width, document.viewing),
    judder: JUDDER_WIDTH * width * (24 / move.fps),
  });
}

/** The plate that a finding is about: its id, null for the back plate. */
export function plateOf({ plate = 0 }: Finding, document: ShotDocument): { id: string | null; name: string } {
  const found = plate > 0 ? drawnPlates(document.plates)[plate - 1] : undefined;
  return found ? { id: found.id, name: found.name } : { id: null, name: 'Back plate' };
}

/** A finding in a few words: what, and how much. */
export function wordsOf(finding: Finding, document: ShotDocument): { what: string; much: string } {
  const px = `${figure(finding.px, finding.px < 10 ? 1 : 0)} px`;
  switch (finding.kind) {
    case 'dry':
      return { what: `${finding.side} border dry`, much: px };
    case 'open':
      return { what: `open on ${plateOf(finding, document).name}`, much: `${figure(finding.px)} px in all` };
    case 'torn':
      return { what: 'wide tear', much: px };
    case 'stretched':
      return { what: `drawn out on ${plateOf(finding, document).name}`, much: px };
    case 'comfort':
      return { what: 'beyond comfort', much: px };
    case 'judder':
      return { what: 'judders', much: `${px} a frame` };
    case 'jump':
      return { what: 'speed jumps', much: `${px} a frame` };
  }
}
