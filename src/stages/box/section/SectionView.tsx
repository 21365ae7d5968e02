'use client';
import { useRef } from 'react';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { runKey } from '@/desk/history';
import { DrawingFrame } from '@/ui/drawing/DrawingFrame';
import { Grip } from '@/ui/drawing/Grip';
import { fitted, whole } from '@/ui/drawing/scale';
import { newId } from '@/ui/newId';
import { useElementSize } from '@/ui/useElementSize';
import type { BoxEdits } from '@/stages/box/useBoxEdits';
import { Drivers, Fibre, Passive, Pipe, Walls } from './drawn';
import { BraceGrip, PortGrip, round } from './grips';

interface SectionViewProps {
  readonly design: Design;
  readonly box: Box;
  readonly edits: BoxEdits;
  readonly chosen: Taken | null;
  readonly onChoose: (taken: Taken) => void;
}

/** What can be taken hold of. */
export type Taken = 'top' | 'rear' | 'port' | `brace ${number}`;

const margin = { marginX: 46, marginY: 26 };
const smallest = 60;

/** The box cut through its middle, to scale, its front at the right. */
export function SectionView({ design, box, edits, chosen, onChoose }: SectionViewProps) {
  const [attach, { widthPx, heightPx }] = useElementSize<HTMLDivElement>();
  const drag = useRef(newId('drag'));
  const released = () => (drag.current = newId('drag'));
  const { shell } = box;
  const { widthMm, heightMm, depthMm, wallMm, frontMm } = shell;
  const isOpen = box.kind === 'open-baffle';
  const deepMm = isOpen ? frontMm : depthMm;
  // The front of the box is x = 0, its bottom y = 0.
  const scale = fitted(
    { leftMm: -Math.max(deepMm, 120), rightMm: 60, bottomMm: 0, topMm: heightMm },
    { widthPx, heightPx, ...margin },
  );
  const setHeight = (mm: number, key: string) =>
    edits.shell(box, { heightMm: Math.max(smallest, round(mm)) }, 'height of the box', key);
  const setDepth = (mm: number, key: string) =>
    edits.shell(box, { depthMm: Math.max(smallest, round(mm)) }, 'depth of the box', key);
  const { x, y, pxPerMm } = scale;
  return (
    <DrawingFrame ref={attach}>
      {widthPx > 0 && heightPx > 0 && (
        <svg
          width={widthPx}
          height={heightPx}
          role="group"
          aria-label="Section of the box, to scale"
        >
          {isOpen ? (
            <rect
              x={x(-frontMm)}
              y={y(heightMm)}
              width={frontMm * pxPerMm}
              height={heightMm * pxPerMm}
              fill="var(--grid)"
              stroke="var(--ink)"
            />
          ) : (
            <Walls box={box} scale={scale} />
          )}
          {box.kind !== 'open-baffle' && <Fibre box={box} scale={scale} />}
          {box.kind === 'line' && <Pipe box={box} scale={scale} />}
          <Drivers design={design} box={box} scale={scale} />
          {box.kind === 'passive-radiator' && <Passive box={box} scale={scale} />}
          {box.kind === 'vented' && (
            <PortGrip
              {...{ box, edits, scale, released }}
              isChosen={chosen === 'port'}
              onChoose={() => onChoose('port')}
              dragKey={() => runKey(drag.current)}
            />
          )}
          {shell.braces.map((brace, b) => (
            <BraceGrip
              key={b}
              {...{ box, edits, scale, brace, released }}
              index={b}
              isChosen={chosen === `brace ${b}`}
              onChoose={() => onChoose(`brace ${b}`)}
              dragKey={() => runKey(drag.current)}
            />
          ))}
          <Grip
            label={`Top of the box, ${whole(heightMm)} mm high`}
            isChosen={chosen === 'top'}
            onChoose={() => onChoose('top')}
            at={{ x: x(-deepMm / 2), y: y(heightMm) }}
            onNudge={(_, up) =>
              edits.shell(
                box,
                (now) => ({ heightMm: Math.max(smallest, round(now.heightMm + up)) }),
                'height of the box',
                'box height',
              )
            }
            onDrag={(at) => setHeight(scale.mmY(at.y), runKey(drag.current))}
            onRelease={released}
          >
            <rect
              x={x(-deepMm)}
              y={y(heightMm) - 5}
              width={deepMm * pxPerMm}
              height={wallMm * pxPerMm + 8}
              className="halo"
            />
          </Grip>
          {!isOpen && (
            <Grip
              label={`Rear wall, ${whole(depthMm)} mm deep`}
              isChosen={chosen === 'rear'}
              onChoose={() => onChoose('rear')}
              at={{ x: x(-depthMm), y: y(heightMm / 2) }}
              onNudge={(along) =>
                edits.shell(
                  box,
                  (now) => ({ depthMm: Math.max(smallest, round(now.depthMm - along)) }),
                  'depth of the box',
                  'box depth',
                )
              }
              onDrag={(at) => setDepth(-scale.mmX(at.x), runKey(drag.current))}
              onRelease={released}
            >
              <rect
                x={x(-depthMm) - 5}
                y={y(heightMm)}
                width={wallMm * pxPerMm + 8}
                height={heightMm * pxPerMm}
                className="halo"
              />
            </Grip>
          )}
          <text x={x(-deepMm / 2)} y={y(0) + 18} textAnchor="middle">
            {whole(depthMm)} deep · {whole(widthMm)} wide
          </text>
          <text
            x={x(-deepMm) - 16}
            y={y(heightMm / 2)}
            textAnchor="middle"
            transform={`rotate(-90 ${x(-deepMm) - 16} ${y(heightMm / 2)})`}
          >
            {whole(heightMm)} mm high
          </text>
          <text x={x(0) + 6} y={y(heightMm) - 8} fill="var(--quiet)">
            front
          </text>
        </svg>
      )}
    </DrawingFrame>
  );
}
