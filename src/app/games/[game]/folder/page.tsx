import { FolderScreen } from '@/ui/folder/FolderScreen';

export default async function FolderPage({ params }: { params: Promise<{ game: string }> }) {
  const gameId = Number((await params).game);
  return <FolderScreen gameId={gameId} />;
}
