import { shownAs, typeOfHead } from '@/core/kinds';
import { preparedBytes } from '@/server/mods/mods';
import { heardBytes } from '@/server/looking/sounds';
import { ChangeParams, route } from '@/app/api/route-kit';

export const GET = route(ChangeParams, async ({ params }) => {
  const prepared = await preparedBytes(params.game, params.mod, params.change);
  const bytes = heardBytes(prepared.bytes, prepared.name);
  const type = shownAs(typeOfHead(bytes));
  return new Response(bytes as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': type ?? 'application/octet-stream',
      'content-disposition': type ? 'inline' : 'attachment',
      'cache-control': 'no-store',
    },
  });
});
