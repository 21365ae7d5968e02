'use client';
import styled from 'styled-components';
import { type FoundNetwork } from '@/core/exploration/found';
import { valueTicks } from '@/ui/chart/window';

interface TradePlotProps {
  readonly networks: readonly FoundNetwork[];
  readonly shown: FoundNetwork | null;
  readonly onShow: (network: FoundNetwork) => void;
}

const size = { width: 288, height: 150, left: 34, right: 8, top: 8, bottom: 30 };

/**
 * Every network as a point: parts across, error up. The table below says the same and takes the
 * keys.
 */
export function TradePlot({ networks, shown, onShow }: TradePlotProps) {
  const counts = networks.map(({ partCount }) => partCount);
  const [least, most] = [Math.min(...counts), Math.max(...counts)];
  const worst = Math.max(...networks.map(({ figures }) => figures.deviationDb)) * 1.1;
  const x = (count: number) =>
    size.left +
    ((size.width - size.left - size.right) * (count - least + 0.5)) / (most - least + 1);
  const y = (db: number) =>
    size.height - size.bottom - ((size.height - size.top - size.bottom) * db) / worst;
  return (
    <svg
      viewBox={`0 0 ${size.width} ${size.height}`}
      role="img"
      aria-label="Error against number of parts"
    >
      {valueTicks(0, worst).map((db) => (
        <g key={db}>
          <path d={`M${size.left} ${y(db)}H${size.width - size.right}`} stroke="var(--grid)" />
          <Words x={size.left - 4} y={y(db) + 3} textAnchor="end">
            {db}
          </Words>
        </g>
      ))}
      {Array.from({ length: most - least + 1 }, (_, i) => least + i).map((count) => (
        <Words key={count} x={x(count)} y={size.height - size.bottom + 12} textAnchor="middle">
          {count}
        </Words>
      ))}
      <Words x={size.width - size.right} y={size.height - 4} textAnchor="end">
        parts
      </Words>
      <Words x={2} y={size.height - 4}>
        ± dB on axis
      </Words>
      {networks.map((network, index) => (
        <circle
          key={index}
          cx={x(network.partCount)}
          cy={y(network.figures.deviationDb)}
          r={network === shown ? 6 : 4}
          fill={network === shown ? 'var(--accent)' : 'var(--sheet)'}
          stroke="var(--accent)"
          strokeWidth="1.5"
          onPointerEnter={() => onShow(network)}
        />
      ))}
    </svg>
  );
}

const Words = styled.text`
  font-size: 10px;
  fill: ${({ theme }) => theme.colour.quiet};
`;
