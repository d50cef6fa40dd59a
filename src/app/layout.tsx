import '@fontsource/atkinson-hyperlegible/400.css';
import '@fontsource/atkinson-hyperlegible/700.css';
import './global.css';
import type { Metadata, Viewport } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { Provider } from '@/ui/provider';

export const metadata: Metadata = { title: 'Yurta', description: 'Look at a design together, in 3D, and decide.' };
export const viewport: Viewport = {
  width: 'device-width',
  initialScale: 1,
  themeColor: [
    { media: '(prefers-color-scheme: light)', color: '#F4EFE6' },
    { media: '(prefers-color-scheme: dark)', color: '#1D1B18' },
  ],
};
/** Every page depends on who asks, and carries the nonce of its answer's policy. */
export const dynamic = 'force-dynamic';

export default async function Layout({ children }: { children: ReactNode }) {
  const policy = (await headers()).get('content-security-policy') ?? '';
  const nonce = /'nonce-([^']+)'/.exec(policy)?.[1];
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <Provider nonce={nonce}>{children}</Provider>
      </body>
    </html>
  );
}
