// Every number that is claimed, measured in one run beside its peers: npm run bench
// [view|move|quality|anaglyph|sheet|matte|depth|carry|film|fill|room|large|huge|crowd ...]
import { benchAnaglyph } from './anaglyph';
import { benchCarry } from './carry';
import { benchCrowd } from './crowd';
import { benchFill } from './fill';
import { benchFilm } from './film';
import { benchHuge } from './huge';
import { benchLarge } from './large';
import { benchDepth } from './depth';
import { benchMatte } from './matte';
import { benchMove } from './move';
import { benchQuality } from './quality';
import { benchRoom } from './room';
import { benchSheet } from './sheet';
import { benchView } from './view';

const PARTS: Record<string, () => void | Promise<void>> = {
  view: benchView,
  move: benchMove,
  quality: benchQuality,
  anaglyph: benchAnaglyph,
  sheet: benchSheet,
  depth: benchDepth,
  carry: benchCarry,
  film: benchFilm,
  matte: benchMatte,
  fill: benchFill,
  room: benchRoom,
  large: benchLarge,
  huge: benchHuge,
  crowd: benchCrowd,
};

async function main(): Promise<void> {
  const chosen = process.argv.slice(2);
  const unknown = chosen.find((c) => !(c in PARTS));
  if (unknown !== undefined)
    throw new Error(`There is no part '${unknown}'; there are ${Object.keys(PARTS).join(', ')}.`);
  for (const [name, part] of Object.entries(PARTS)) if (chosen.length === 0 || chosen.includes(name)) await part();
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
