'use client';
import { Trash2 } from 'lucide-react';
import { boundsOf, type Panel } from '@/core/document/baffleSchema';
import { withPort } from '@/core/layout/reshape';
import { Button } from '@/ui/Button';
import { QuantityBlank } from '@/ui/fields/Blank';
import { Quiet, Sentence } from '@/ui/sheets';
import type { ReshapeFront } from '@/stages/baffle/useBaffleEdits';
import { SmallButton as Small } from './SmallButton';

/** Openings of the front that take up room. */
export function PortList({
  panel,
  onSet,
}: {
  readonly panel: Panel;
  readonly onSet: ReshapeFront;
}) {
  const bounds = boundsOf(panel.corners);
  const set = (index: number, change: Partial<Panel['ports'][number]>) =>
    onSet((now) => withPort(now, index, change), 'port', `port ${index}`);
  return (
    <details>
      <summary>Ports ({panel.ports.length})</summary>
      {panel.ports.map((port, p) => (
        <Sentence key={p}>
          Port {p + 1},{' '}
          {(
            [
              ['diameterMm', 'diameter', 1, 1000],
              ['xMm', 'to the right', -10_000, 10_000],
              ['yMm', 'up', -10_000, 10_000],
            ] as const
          ).map(([key, told, min, max]) => (
            <span key={key}>
              <QuantityBlank
                label={`Port ${p + 1}, ${told}`}
                dimension="millimetre"
                stepBy={1}
                min={min}
                max={max}
                value={port[key]}
                onChange={(mm) => mm !== null && set(p, { [key]: mm })}
              />{' '}
              {told}{' '}
            </span>
          ))}
          <Small
            aria-label={`Remove port ${p + 1}`}
            onPress={() =>
              onSet((now) => ({ ...now, ports: now.ports.toSpliced(p, 1) }), 'remove a port')
            }
          >
            <Trash2 size={12} aria-hidden />
          </Small>
        </Sentence>
      ))}
      <Button
        isDisabled={panel.ports.length >= 12}
        onPress={() =>
          onSet(
            (now) => ({
              ...now,
              ports: [
                ...now.ports,
                {
                  xMm: (bounds.leftMm + bounds.rightMm) / 2,
                  yMm: bounds.bottomMm + 80,
                  diameterMm: 60,
                },
              ],
            }),
            'add a port',
          )
        }
      >
        Add a port
      </Button>
      <Quiet as="p">Its tuning belongs to the box; here it only takes its place.</Quiet>
    </details>
  );
}
