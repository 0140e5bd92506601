import { InstalledScreen } from '@/ui/installed/InstalledScreen';

export default async function InstalledPage({ params }: { params: Promise<{ game: string }> }) {
  const gameId = Number((await params).game);
  return <InstalledScreen gameId={gameId} />;
}
