import { Suspense } from 'react';
import { FolderScreen } from '@/ui/folder/FolderScreen';

export default async function FolderPage({ params }: { params: Promise<{ game: string }> }) {
  const gameId = Number((await params).game);
  return (
    <Suspense>
      <FolderScreen gameId={gameId} />
    </Suspense>
  );
}
