import { RecipesScreen } from '@/ui/recipes/RecipesScreen';

export default async function RecipesPage({ params }: { params: Promise<{ game: string }> }) {
  const gameId = Number((await params).game);
  return <RecipesScreen gameId={gameId} />;
}
