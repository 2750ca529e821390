import { Project, Shot } from '../db/entities';
import { database } from '../db/orm';
import { openDocument } from './documents';

/** Shots beside this one, on the desk, that have cut plates. */
export async function platesElsewhere(
  id: string,
): Promise<{ id: string; name: string; plates: { id: string; name: string }[] }[]> {
  const em = await database();
  const projects = new Set((await em.find(Project, { putAwayAt: null })).map((p) => p.id));
  const shots = await em.find(
    Shot,
    { putAwayAt: null, id: { $ne: id } },
    { orderBy: { changedAt: 'desc' }, limit: 200 },
  );
  const found = [];
  for (const { id: other, projectId, name, document } of shots) {
    if (!projects.has(projectId)) continue;
    const cut = (await openDocument(em, document)).plates.filter((p) => p.matte !== null);
    if (cut.length > 0) found.push({ id: other, name, plates: cut.map((p) => ({ id: p.id, name: p.name })) });
  }
  return found;
}
