import { notFound } from 'next/navigation';
import type { ReactNode } from 'react';
import { z } from 'zod';
import { ProblemError } from '@/core/problem';
import { DeskProvider } from '@/desk/DeskContext';
import { DeskFrame } from '@/desk/DeskFrame';
import { findProject } from '@/server/projects';

export const dynamic = 'force-dynamic';

interface DeskLayoutProps {
  readonly params: Promise<{ id: string }>;
  readonly children: ReactNode;
}

export default async function DeskLayout({ params, children }: DeskLayoutProps) {
  const { id } = await params;
  if (!z.uuid().safeParse(id).success) notFound();
  const project = await findProject(id).catch((error: unknown) => {
    if (error instanceof ProblemError) return null;
    throw error;
  });
  if (!project) notFound();
  return (
    <DeskProvider project={project}>
      <DeskFrame>{children}</DeskFrame>
    </DeskProvider>
  );
}
