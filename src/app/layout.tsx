import '@fontsource-variable/atkinson-hyperlegible-mono/wght.css';
import '@fontsource-variable/atkinson-hyperlegible-next/wght.css';
import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { themeScript } from '@/desk/theme';
import { StyleRegistry } from '@/ui/StyleRegistry';

export const metadata: Metadata = {
  title: 'Fair Voicing',
  description: 'Measured drivers to a passive loudspeaker that keeps its promises',
};

export default async function RootLayout({ children }: { readonly children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <html lang="en" suppressHydrationWarning>
      <head>
        {/* A browser hides the nonce from scripts, so that the page in it never looks like the server's. */}
        <script
          nonce={nonce}
          suppressHydrationWarning
          dangerouslySetInnerHTML={{ __html: themeScript }}
        />
      </head>
      <body>
        <StyleRegistry>{children}</StyleRegistry>
      </body>
    </html>
  );
}
