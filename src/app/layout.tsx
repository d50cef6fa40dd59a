import '@fontsource/atkinson-hyperlegible/400.css';
import '@fontsource/atkinson-hyperlegible/700.css';
import './global.css';
import type { Metadata, Viewport } from 'next';
import type { ReactNode } from 'react';
import { Provider } from '@/ui/provider';

export const metadata: Metadata = { title: 'Yurta', description: 'Look at a design together, in 3D, and decide.' };
export const viewport: Viewport = { width: 'device-width', initialScale: 1, themeColor: '#F4EFE6' };
/** Every page depends on who asks, and carries the nonce of its answer's policy. */
export const dynamic = 'force-dynamic';

export default function Layout({ children }: { children: ReactNode }) {
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <Provider>{children}</Provider>
      </body>
    </html>
  );
}
