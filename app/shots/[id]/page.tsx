import { shotState } from '@/server/shots/history';
import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { connection } from 'next/server';
import { cache } from 'react';
import { z } from 'zod';
import { addressesAhead } from '@/compute/layer/addresses';
import { atMoment } from '@/core/shot/atMoment';
import { footageRange } from '@/core/shot/document';
import { listRenders } from '@/server/renders/renders';
import { isFlat } from '@/server/shots/depth';
import { projectName } from '@/server/shots/desk';
import { Problem } from '@/server/http/problem';
import { RoomLoader } from '@/studio/room/RoomLoader';
import { rasterNames } from '@/studio/viewer/rasterNames';

type Props = { params: Promise<{ id: string }> };

const load = cache(async (id: string) => {
  if (!z.uuid().safeParse(id).success) notFound();
  try {
    return await shotState(id);
  } catch (error) {
    if (error instanceof Problem && error.status === 404) notFound();
    throw error;
  }
});

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  await connection();
  return { title: `${(await load((await params).id)).name} · Cork Twin` };
}

export default async function ShotPage({ params }: Props) {
  await connection();
  const shot = await load((await params).id);
  const [renders, project, flat] = await Promise.all([
    listRenders(shot.id),
    projectName(shot.projectId),
    isFlat(shot.document),
  ]);
  const { footage } = shot.document;
  const first = atMoment(shot.document, footage ? footageRange(footage).first : 0);
  const ahead = addressesAhead(shot.id, first.source, rasterNames(first));
  return <RoomLoader ahead={ahead} shot={shot} renders={renders} project={project} flat={flat} />;
}
