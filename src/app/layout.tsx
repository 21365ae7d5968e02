import '@fontsource-variable/atkinson-hyperlegible-mono/wght.css';
import '@fontsource-variable/atkinson-hyperlegible-next/wght.css';
import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { tableScript } from '@/desk/table';
import { StyleRegistry } from '@/ui/StyleRegistry';

export const metadata: Metadata = {
  title: 'Fair Voicing',
  description: 'Measured drivers to a passive loudspeaker that keeps its promises',
};

export default function RootLayout({ children }: { readonly children: ReactNode }) {
  return (
    <html lang="en" suppressHydrationWarning>
      <head>
        <script dangerouslySetInnerHTML={{ __html: tableScript }} />
      </head>
      <body>
        <StyleRegistry>{children}</StyleRegistry>
      </body>
    </html>
  );
}
