import { networksDir } from '@/server/config';
import { route } from '@/server/http/guard';
import { listNetworks } from '@/server/network/networks';

/** The user's own depth networks, and the folder that they are put into. */
export const GET = route(async () =>
  Response.json(
    { folder: networksDir(), networks: await listNetworks() },
    { headers: { 'cache-control': 'no-store' } },
  ),
);
