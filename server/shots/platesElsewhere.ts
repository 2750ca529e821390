import { Project, Shot } from '../db/entities';
import { database } from '../db/orm';

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
  return shots
    .filter((s) => projects.has(s.projectId))
    .map((s) => ({
      id: s.id,
      name: s.name,
      plates: s.document.plates.filter((p) => p.matte !== null).map(({ id: plate, name }) => ({ id: plate, name })),
    }))
    .filter((s) => s.plates.length > 0);
}
