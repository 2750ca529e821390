import { connection } from 'next/server';
import { Desk } from '@/studio/desk/Desk';
import { desk } from '@/server/shots/desk';

export default async function DeskPage() {
  await connection();
  return <Desk desk={await desk()} />;
}
