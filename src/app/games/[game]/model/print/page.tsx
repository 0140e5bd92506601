import { PrintScreen } from '@/media/model/ui/print/PrintScreen';

export default async function PrintPage({ params }: { params: Promise<{ game: string }> }) {
  return <PrintScreen gameId={Number((await params).game)} />;
}
