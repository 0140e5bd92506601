import { ReadScreen } from '@/ui/reading/ReadScreen';

export default async function ReadPage({ params }: { params: Promise<{ game: string }> }) {
  const gameId = Number((await params).game);
  return <ReadScreen gameId={gameId} />;
}
