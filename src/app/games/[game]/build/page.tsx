import { BuildScreen } from '@/ui/build/BuildScreen';

export default async function BuildPage({ params }: { params: Promise<{ game: string }> }) {
  const gameId = Number((await params).game);
  return <BuildScreen gameId={gameId} />;
}
