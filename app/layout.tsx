import '@fontsource-variable/work-sans';
import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { Providers } from '@/studio/Providers';
import '@/studio/base.css';

export const metadata: Metadata = {
  title: 'Cork Twin',
  description: 'Stereo conversion by hand: depth, left and right views, anaglyphs, lenticular sheets',
};

export default function RootLayout({ children }: { children: ReactNode }) {
  return (
    <html lang="en">
      <body>
        <Providers>{children}</Providers>
      </body>
    </html>
  );
}
