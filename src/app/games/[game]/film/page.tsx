import { FilmScreen } from '@/media/film/ui/watch/FilmScreen';

export default async function FilmPage({ params }: { params: Promise<{ game: string }> }) {
  return <FilmScreen gameId={Number((await params).game)} />;
}
