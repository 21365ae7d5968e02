'use client';
import { useEffect } from 'react';
import styled, { createGlobalStyle } from 'styled-components';

/** While it is on the screen, printing prints it and nothing else, dark on white. */
export function PrintSheet({ children }: { readonly children: React.ReactNode }) {
  // Curves keep their paper colours on paper, whatever table is laid out.
  useEffect(() => {
    const root = document.documentElement;
    let table: string | undefined;
    const before = () => {
      table = root.dataset.theme;
      root.dataset.theme = 'light';
    };
    const after = () => {
      if (table === undefined) delete root.dataset.theme;
      else root.dataset.theme = table;
    };
    window.addEventListener('beforeprint', before);
    window.addEventListener('afterprint', after);
    return () => {
      window.removeEventListener('beforeprint', before);
      window.removeEventListener('afterprint', after);
    };
  }, []);
  return (
    <>
      <OnlyThis />
      <Sheet data-print-sheet="">{children}</Sheet>
    </>
  );
}

const OnlyThis = createGlobalStyle`
  @media print {
    @page { margin: 14mm; }
    html, body { height: auto; background: #fff; }
    body :not(:has([data-print-sheet])):not([data-print-sheet], [data-print-sheet] *) { display: none !important; }
    body :has([data-print-sheet]) {
      display: block !important;
      height: auto !important;
      min-height: 0 !important;
      min-width: 0 !important;
      overflow: visible !important;
      padding: 0 !important;
      border: 0 !important;
    }
  }
`;

const Sheet = styled.article`
  background: ${({ theme }) => theme.colour.sheet};
  border: 1px solid ${({ theme }) => theme.colour.rule};
  padding: 1.2rem 1.4rem;
  display: grid;
  gap: 0.9rem;
  @media print {
    border: 0;
    padding: 0;
    background: #fff;
    > * {
      break-inside: avoid;
    }
  }
`;
