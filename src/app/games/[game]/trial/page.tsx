import { TrialScreen } from '@/ui/trial/TrialScreen';

export default async function TrialPage({ params }: { params: Promise<{ game: string }> }) {
  const gameId = Number((await params).game);
  return <TrialScreen gameId={gameId} />;
}
