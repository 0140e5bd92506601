import { Suspense } from 'react';
import { TrialScreen } from '@/ui/trial/TrialScreen';

export default async function TrialPage({ params }: { params: Promise<{ game: string }> }) {
  const gameId = Number((await params).game);
  return (
    <Suspense>
      <TrialScreen gameId={gameId} />
    </Suspense>
  );
}
