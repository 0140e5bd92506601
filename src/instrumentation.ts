/** Begins what the server does by itself, once it has started. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { keepReadingsReady } = await import('@/server/reading/keep-ready');
  keepReadingsReady();
}
