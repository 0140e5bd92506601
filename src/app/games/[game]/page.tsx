import { redirect } from 'next/navigation';

export default async function GamePage({ params }: { params: Promise<{ game: string }> }) {
  redirect(`/games/${(await params).game}/locks`);
}
