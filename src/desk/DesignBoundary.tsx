'use client';
import type { ReactNode } from 'react';
import { Boundary } from '@/ui/Boundary';
import { useDeskState } from './DeskContext';

/**
 * Keeps a fault to one part of the desk; what failed is tried again as soon as the design is
 * another.
 */
export function DesignBoundary({
  name,
  children,
}: {
  readonly name: string;
  readonly children: ReactNode;
}) {
  const design = useDeskState((state) => state.design);
  return (
    <Boundary name={name} retryOn={design}>
      {children}
    </Boundary>
  );
}
