import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import type { ShotDocument } from '@/core/shot/document';
import { Project, Shot } from '../db/entities';
import { database } from '../db/orm';
import { query } from '../db/query';
import { Problem } from '../http/problem';

/** The first page's content: projects with their shots. */
export interface DeskProject {
  readonly id: string;
  readonly name: string;
  readonly shots: readonly {
    readonly id: string;
    readonly name: string;
    readonly width: number;
    readonly height: number;
    readonly mediaId: string;
    /** Null: a still. */
    readonly frames: number | null;
    readonly head: number;
    readonly nearPx: number;
    readonly farPx: number;
    readonly changedAt: string;
    readonly renders: number;
  }[];
}

export interface Desk {
  readonly projects: readonly DeskProject[];
  readonly putAway: readonly { readonly id: string; readonly kind: 'project' | 'shot'; readonly name: string }[];
}

export async function desk(): Promise<Desk> {
  const em = await database();
  const projects = await em.find(Project, {}, { orderBy: { createdAt: 'asc' } });
  const shots = await em.find(Shot, {}, { orderBy: { createdAt: 'asc' } });
  const counts = await query<{ shot_id: string; n: string }>(
    em,
    "select shot_id, count(*) as n from render where state = 'done' group by shot_id",
  );
  return {
    projects: projects
      .filter((p) => !p.putAwayAt)
      .map((p) => ({
        id: p.id,
        name: p.name,
        shots: shots
          .filter((s) => s.projectId === p.id && !s.putAwayAt)
          .map((s) => ({
            id: s.id,
            name: s.name,
            width: s.document.source.width,
            height: s.document.source.height,
            mediaId: s.document.source.mediaId,
            frames: (s.document as Partial<ShotDocument>).footage?.frames ?? null,
            head: s.headId,
            nearPx: s.document.budget.nearPx,
            farPx: s.document.budget.farPx,
            changedAt: s.changedAt.toISOString(),
            renders: Number(counts.find((c) => c.shot_id === s.id)?.n ?? 0),
          })),
      })),
    putAway: [
      ...projects.filter((p) => p.putAwayAt).map((p) => ({ id: p.id, kind: 'project' as const, name: p.name })),
      ...shots
        .filter((s) => s.putAwayAt && projects.some((p) => p.id === s.projectId && !p.putAwayAt))
        .map((s) => ({ id: s.id, kind: 'shot' as const, name: s.name })),
    ],
  };
}

const nameSchema = z.string().trim().min(1, 'A name is needed.').max(120, 'A name has at most 120 letters.');
export const createProjectSchema = z.strictObject({ name: nameSchema });
export const changeSchema = z.strictObject({ name: nameSchema.optional(), putAway: z.boolean().optional() });

export async function createProject(name: string): Promise<string> {
  const em = await database();
  const project = em.create(Project, { id: randomUUID(), name, createdAt: new Date(), putAwayAt: null });
  await em.persistAndFlush(project);
  return project.id;
}

/** Renames, puts away or brings back; nothing is removed. */
export async function changeEntry(
  kind: 'project' | 'shot',
  id: string,
  change: z.infer<typeof changeSchema>,
): Promise<void> {
  const em = await database();
  const found = kind === 'project' ? await em.findOne(Project, { id }) : await em.findOne(Shot, { id });
  if (!found) throw Problem.notFound(`This ${kind}`);
  if (change.name !== undefined) found.name = change.name;
  if (change.putAway !== undefined) found.putAwayAt = change.putAway ? new Date() : null;
  await em.flush();
}

export async function projectName(id: string): Promise<string> {
  return (await (await database()).findOne(Project, { id }))?.name ?? '';
}
