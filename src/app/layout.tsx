import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter';
import InitColorSchemeScript from '@mui/material/InitColorSchemeScript';
import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { Providers } from '@/ui/providers';

export const metadata: Metadata = {
  title: 'Zero Latch',
  description: 'Open, browse, change, repack and prove game archives.',
};

/** The word by which a page names its own scripts; `proxy` makes one a request, so that no page is made beforehand. */
async function nonceOf(): Promise<string | undefined> {
  return /'nonce-([^']+)'/.exec((await headers()).get('content-security-policy') ?? '')?.[1];
}

export default async function RootLayout({ children }: { children: ReactNode }) {
  const nonce = await nonceOf();
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <InitColorSchemeScript attribute="data" defaultMode="system" nonce={nonce} />
        <AppRouterCacheProvider options={{ enableCssLayer: true }}>
          <Providers>{children}</Providers>
        </AppRouterCacheProvider>
      </body>
    </html>
  );
}
