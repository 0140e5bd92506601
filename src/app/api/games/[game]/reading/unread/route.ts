import { GameParams, route } from '@/app/api/route-kit';
import { openReading } from '@/server/reading/reading';
import { unreadView } from '@/server/reading/reading-view';

/** What nothing reads, and what leads nowhere. */
export const GET = route(GameParams, async ({ params }) => unreadView(await openReading(params.game)));
