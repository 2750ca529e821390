import type { Choice } from '../../matte/choice';
import { BEGIN_RECIPES } from '../../recipes';
import { BEGIN_CAMERA } from './camera';
import { VERSION, type ShotDocument } from './shotDocument';

type Fields = Record<string, unknown>;

/** What parts of a document held before they were asked for: what a document of then meant by not having them. */
const DOCUMENT_OF_BEFORE: Fields = {
  plates: [],
  fill: null,
  overpaint: null,
  frame: null,
  holePx: null,
  tearSoftPx: 0,
};
/** Parts that have come since the newest version. */
const PARTS_SINCE: Fields = {
  camera: BEGIN_CAMERA,
  move: null,
  keptMoves: [],
  partEdges: true,
  strokes: [],
  marks: [],
  keptDepths: [],
  footage: null,
};
const PLATE_OF_BEFORE: Fields = {
  piece: null,
  group: null,
  fill: null,
  overpaint: null,
  tearPx: null,
  tearSoftPx: null,
  strokes: [],
  keys: [],
};
/** Parts of plates, and of what a film has, that have come since the newest version. */
const PLATE_PARTS_SINCE: Fields = { strokes: [], keys: [] };
const FOOTAGE_PARTS_SINCE: Fields = { fills: [] };
const EDGE_OF_BEFORE: Fields = { growTolerance: 16, growPx: 0, unsure: [] };

/**
 * A stored document in the newest version. Those of the newest version with all its parts come back as they are.
 * @param nameOf keeps a choice apart from the document and gives its name
 */
export function upgradeDocument(stored: unknown, nameOf: (choice: Choice) => string): ShotDocument {
  const given = stored as Fields & { version: number };
  const whole = withParts(holds(PARTS_SINCE, given) ? given : { ...PARTS_SINCE, ...given });
  const document = withRecipes(whole);
  if (document.version === VERSION) return document as unknown as ShotDocument;
  const upgraded: Fields = { ...DOCUMENT_OF_BEFORE, ...document, version: VERSION };
  return {
    ...upgraded,
    depth: { behind: null, ...(document.depth as Fields) },
    plates: (upgraded.plates as Fields[]).map((plate) => upgradePlate(plate, nameOf)),
  } as unknown as ShotDocument;
}

const holds = (parts: Fields, given: Fields): boolean => Object.keys(parts).every((part) => part in given);

/** With the parts of plates and of films that have come since it was stored. */
function withParts<D extends Fields & { version: number }>(document: D): D {
  if (document.version !== VERSION) return document;
  const plates = document.plates as Fields[] | undefined;
  const footage = document.footage as Fields | null | undefined;
  const whole = plates?.every((plate) => holds(PLATE_PARTS_SINCE, plate)) ?? true;
  if (whole && (!footage || holds(FOOTAGE_PARTS_SINCE, footage))) return document;
  return {
    ...document,
    plates: plates?.map((plate) => ({ ...PLATE_PARTS_SINCE, ...plate })),
    ...(footage ? { footage: { ...FOOTAGE_PARTS_SINCE, ...footage } } : {}),
  };
}

/** With the recipes that have come since it was stored. */
function withRecipes<D extends Fields>(document: D): D {
  const held = document.recipes as Fields;
  if (Object.keys(BEGIN_RECIPES).every((kind) => kind in held)) return document;
  return { ...document, recipes: { ...BEGIN_RECIPES, ...held } };
}

function upgradePlate(plate: Fields, nameOf: (choice: Choice) => string): Fields {
  const choice = plate.choice as { edge: Fields } | null | undefined;
  const named = choice ? nameOf({ ...choice, edge: { ...EDGE_OF_BEFORE, ...choice.edge } } as Choice) : null;
  return { ...PLATE_OF_BEFORE, ...plate, choice: named };
}
