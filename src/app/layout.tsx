import type { Metadata } from 'next';
import { cookies } from 'next/headers';
import type { ReactNode } from 'react';
import './globals.css';

export const metadata: Metadata = { title: 'Yarvo', description: "Rigs onto the studio's humanoid definition" };

export default async function RootLayout({ children }: { children: ReactNode }) {
  const theme = (await cookies()).get('yarvo-theme')?.value === 'slate' ? 'slate' : 'chalk';
  return (
    <html lang="en" data-theme={theme}>
      <body>{children}</body>
    </html>
  );
}
