'use client';
import { createGlobalStyle, css } from 'styled-components';

const light = css`
  color-scheme: light;
  --paper: #f4efe6;
  --sheet: #fdfbf5;
  --raised: #ffffff;
  --ink: #1d2730;
  --quiet: #59636c;
  --rule: #d3c9b6;
  --grid: #e6dfd0;
  --accent: #14675a;
  --accent-wash: #dcebe5;
  --on-accent: #ffffff;
  --alarm: #a5321b;
  --alarm-wash: #f8e6de;
  --doubt: #7d5a00;
  --curve-1: #92500b;
  --curve-2: #1c5fa8;
  --curve-3: #9c2870;
  --curve-4: #2c6b3c;
  --curve-5: #5b4aa6;
  --curve-6: #8a3b34;
  --map-low: #f6f2e8;
  --map-middle: #6fa894;
  --map-high: #0b3f39;
`;

const dark = css`
  color-scheme: dark;
  --paper: #15191d;
  --sheet: #1b2025;
  --raised: #252b31;
  --ink: #ece7dc;
  --quiet: #a6adb2;
  --rule: #3c444b;
  --grid: #2b3238;
  --accent: #62c8b0;
  --accent-wash: #1f3a36;
  --on-accent: #10201d;
  --alarm: #ff9274;
  --alarm-wash: #43251c;
  --doubt: #e3b95b;
  --curve-1: #e2a35a;
  --curve-2: #74b2f2;
  --curve-3: #ea85c0;
  --curve-4: #83cc93;
  --curve-5: #b3a5f5;
  --curve-6: #e89a92;
  --map-low: #1b2025;
  --map-middle: #2f7d6d;
  --map-high: #d6fbe9;
`;

export const GlobalStyle = createGlobalStyle`
  :root { ${light} }
  @media (prefers-color-scheme: dark) { :root { ${dark} } }
  :root[data-theme='light'] { ${light} }
  :root[data-theme='dark'] { ${dark} }

  *, *::before, *::after { box-sizing: border-box; scrollbar-width: thin; }
  html, body { margin: 0; height: 100%; }
  body {
    background: ${({ theme }) => theme.colour.paper};
    color: ${({ theme }) => theme.colour.ink};
    font: 400 ${({ theme }) => theme.size.body}/1.45 ${({ theme }) => theme.font.text};
    font-variant-numeric: tabular-nums;
  }
  h1, h2, h3, p, ul, ol, dl, dd, figure { margin: 0; padding: 0; }
  h1, h2, h3 { font-weight: 650; font-size: ${({ theme }) => theme.size.title}; }
  ul, ol { list-style: none; }
  a { color: ${({ theme }) => theme.colour.accent}; }
  kbd { font: inherit; font-family: ${({ theme }) => theme.font.figures}; font-size: 0.85em; color: ${({ theme }) => theme.colour.quiet}; }
  :focus-visible { outline: 2px solid ${({ theme }) => theme.colour.accent}; outline-offset: 2px; }
  @media (prefers-reduced-motion: reduce) { * { transition: none !important; animation: none !important; } }
`;
