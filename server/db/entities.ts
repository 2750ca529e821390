import { defineEntity, p, type InferEntity } from '@mikro-orm/core';
import type { Operation } from 'rfc6902';
import type { Recipe } from '@/core/recipes';
import type { ShotDocument } from '@/core/shot/document';

/**
 * A document as it was stored, perhaps in an older version: server/shots/documents opens it. These parts are in every
 * version.
 */
export type StoredDocument = Pick<ShotDocument, 'source' | 'budget'>;

// Names are written out: the production build shortens class names, and tables must not follow.

export const Project = defineEntity({
  name: 'Project',
  tableName: 'project',
  properties: { id: p.uuid().primary(), name: p.text(), createdAt: p.datetime(), putAwayAt: p.datetime().nullable() },
});

export const Shot = defineEntity({
  name: 'Shot',
  tableName: 'shot',
  properties: {
    id: p.uuid().primary(),
    projectId: p.uuid(),
    name: p.text(),
    document: p.json<StoredDocument>(),
    /** The history entry that the document stands at; also what a change must name to be accepted. */
    headId: p.integer(),
    createdAt: p.datetime(),
    changedAt: p.datetime(),
    putAwayAt: p.datetime().nullable(),
  },
});

/**
 * One step of a shot's history. Entries form a tree; nothing is ever removed. Some keep the whole document as it was
 * after them, the
 * others what they changed of their parent's, as a JSON Patch (RFC 6902).
 */
export const HistoryEntry = defineEntity({
  name: 'HistoryEntry',
  tableName: 'history_entry',
  properties: {
    id: p.integer().primary().autoincrement(),
    shotId: p.uuid(),
    parentId: p.integer().nullable(),
    label: p.text(),
    document: p.json<StoredDocument>().nullable(),
    patch: p.json<Operation[]>().nullable(),
    /** How many entries it stands away from one that keeps the whole document. */
    since: p.integer(),
    /** The change's own id, so that one that is sent again is stored once; null for those of before. */
    changeId: p.uuid().nullable(),
    /** What the change answered beside the shot. */
    answer: p.json<Record<string, unknown>>().nullable(),
    createdAt: p.datetime(),
  },
});

export const RenderState = ['queued', 'running', 'done', 'failed', 'stopped'] as const;

export const Render = defineEntity({
  name: 'Render',
  tableName: 'render',
  properties: {
    id: p.uuid().primary(),
    shotId: p.uuid(),
    recipe: p.json<Recipe>(),
    document: p.json<StoredDocument>(),
    state: p.string().$type<(typeof RenderState)[number]>(),
    progress: p.float(),
    step: p.text(),
    error: p.text().nullable(),
    stopRequested: p.boolean(),
    worker: p.text().nullable(),
    heartbeatAt: p.datetime().nullable(),
    createdAt: p.datetime(),
    startedAt: p.datetime().nullable(),
    finishedAt: p.datetime().nullable(),
    report: p.json<RenderReport>().nullable(),
  },
});

/** What a render measured of itself. */
export interface RenderReport {
  readonly width: number;
  readonly height: number;
  readonly files: number;
  readonly bytes: number;
  readonly milliseconds: number;
  /** Largest share of revealed pixels of any view, 0 to 1. */
  readonly revealedShare: number;
  /** Pixels behind nearer plates that a view uncovers and nobody has filled: filled smoothly from the farther side. */
  readonly openPx?: number;
}

export type Project = InferEntity<typeof Project>;
export type Shot = InferEntity<typeof Shot>;
export type HistoryEntry = InferEntity<typeof HistoryEntry>;
export type Render = InferEntity<typeof Render>;
