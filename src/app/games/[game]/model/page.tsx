import { ModelScreen } from '@/media/model/ui/ModelScreen';

export default async function ModelPage({ params }: { params: Promise<{ game: string }> }) {
  return <ModelScreen gameId={Number((await params).game)} />;
}
