import { DeskScreen } from '@/ui/desk/DeskScreen';

export default async function DeskPage({ params }: { params: Promise<{ game: string }> }) {
  const gameId = Number((await params).game);
  return <DeskScreen gameId={gameId} />;
}
