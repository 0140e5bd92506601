import { checkInstalled, listInstallations } from '@/server/installing/installations';
import { GameParams, route } from '@/app/api/route-kit';

export const GET = route(GameParams, async ({ params }) => ({
  installations: await listInstallations(params.game),
  files: await checkInstalled(params.game),
}));
