import { LocksScreen } from '@/ui/locks/LocksScreen';

export default async function LocksPage({ params }: { params: Promise<{ game: string }> }) {
  const gameId = Number((await params).game);
  return <LocksScreen gameId={gameId} />;
}
