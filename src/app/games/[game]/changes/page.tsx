import { ChangesScreen } from '@/ui/changes/ChangesScreen';

export default async function ChangesPage({ params }: { params: Promise<{ game: string }> }) {
  const gameId = Number((await params).game);
  return <ChangesScreen gameId={gameId} />;
}
