import { notFound } from 'next/navigation';
import type { ReactNode } from 'react';
import { GameFrame } from '@/ui/frame/GameFrame';

export default async function GameLayout({
  children,
  params,
}: {
  children: ReactNode;
  params: Promise<{ game: string }>;
}) {
  const id = Number((await params).game);
  if (!Number.isInteger(id) || id < 1) notFound();
  return <GameFrame gameId={id}>{children}</GameFrame>;
}
