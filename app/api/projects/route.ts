import { connection } from 'next/server';
import { readJson, route } from '@/server/http/guard';
import { createProject, createProjectSchema, desk } from '@/server/shots/desk';

export const GET = route(async () => {
  await connection();
  return Response.json(await desk());
});

export const POST = route(async (request) => {
  const { name } = createProjectSchema.parse(await readJson(request));
  return Response.json({ id: await createProject(name) }, { status: 201 });
});
