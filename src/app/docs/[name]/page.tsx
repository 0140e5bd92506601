import { notFound } from 'next/navigation';
import { docPage } from '@/server/docs';
import { DocScreen } from '@/ui/docs/DocScreen';

export default async function DocPage({ params }: { params: Promise<{ name: string }> }) {
  const text = docPage((await params).name);
  if (text === undefined) notFound();
  return <DocScreen text={text} />;
}
