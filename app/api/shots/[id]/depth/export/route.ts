import { shotState } from '@/server/shots/history';
import { z } from 'zod';
import { atMoment } from '@/core/shot/atMoment';
import { attachment } from '@/server/http/download';
import { route } from '@/server/http/guard';
import { idOf, momentOf } from '@/server/http/params';
import { Problem } from '@/server/http/problem';
import { DEPTH_ENDINGS, DEPTH_FORMATS, depthFileOf, type DepthFormat } from '@/server/media/depthFile';
import { carriedIsThere, depthMap } from '@/server/shots/carriedRasters';
import { plateOf } from '@/server/shots/plateList';

const schema = z.object({
  plate: z.uuid().nullable().default(null),
  as: z.enum(DEPTH_FORMATS).default('png'),
  /** Of floats: how far away white and black are; without, they are depth of 0 to 1. */
  nearest: z.coerce.number().optional(),
  farthest: z.coerce.number().optional(),
});
const MIMES: Record<DepthFormat, string> = {
  ...{ png: 'image/png', png8: 'image/png', tif: 'image/tiff', tif32: 'image/tiff' },
  ...{ exr: 'image/x-exr', pfm: 'image/x-portable-floatmap' },
};

/** The back plate's depth map, or that of a plate, at full size, values as stored, or as distances. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const shot = await shotState(await idOf(context));
  const document = atMoment(shot.document, momentOf(request.url), carriedIsThere);
  const given = schema.parse(Object.fromEntries(new URL(request.url).searchParams));
  const { plate: asked, as, nearest, farthest } = given;
  const plate = asked === null ? undefined : plateOf(document, asked);
  const revision = plate ? plate.depth.revision : document.depth.revision;
  if (revision === null)
    throw new Problem(
      422,
      'not-cut',
      `${plate?.name ?? 'This plate'} is only planned and has no depth yet. Cut it first.`,
    );
  const range = nearest !== undefined && farthest !== undefined ? { near: nearest, far: farthest } : undefined;
  const file = await depthFileOf(await depthMap(revision, document.source), as, range);
  return new Response(new Uint8Array(file), {
    headers: {
      'content-type': MIMES[as],
      'content-disposition': attachment(`${shot.name}${plate ? ` ${plate.name}` : ''} depth.${DEPTH_ENDINGS[as]}`),
      'x-size': String(file.length),
      'cache-control': 'no-store',
    },
  });
});
