import { ContentsScreen } from '@/ui/contents/ContentsScreen';

export default async function ContentsPage({ params }: { params: Promise<{ game: string }> }) {
  const gameId = Number((await params).game);
  return <ContentsScreen gameId={gameId} />;
}
