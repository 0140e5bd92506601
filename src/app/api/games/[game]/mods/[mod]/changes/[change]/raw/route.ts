import { typeOfHead } from '@/core/kinds';
import { preparedBytes } from '@/server/mods';
import { heardBytes } from '@/server/sounds';
import { ChangeParams, route } from '@/app/api/route-kit';

export const GET = route(ChangeParams, async ({ params }) => {
  const prepared = await preparedBytes(params.game, params.mod, params.change);
  const bytes = heardBytes(prepared.bytes, prepared.name);
  const wave = typeOfHead(bytes)?.ending === 'wav';
  return new Response(bytes as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': wave ? 'audio/wav' : 'application/octet-stream',
      'content-disposition': wave ? 'inline' : 'attachment',
      'cache-control': 'no-store',
    },
  });
});
