'use client';
import { panelOfPortMm } from '@/core/cabinet/netVolume';
import { insideOf } from '@/core/cabinet/shell';
import type { Box, BoxBrace } from '@/core/document/boxSchema';
import type { BoxEdits } from '@/stages/box/useBoxEdits';
import { Grip } from '@/ui/drawing/Grip';
import { whole } from '@/ui/drawing/scale';
import type { PartProps } from './drawn';

/** To a tenth of a millimetre. */
export const round = (mm: number) => Number(mm.toFixed(1));

interface HeldProps extends PartProps {
  readonly edits: BoxEdits;
  readonly isChosen: boolean;
  readonly onChoose: () => void;
  readonly released: () => void;
  readonly dragKey: () => string;
}

/** A port's way from its mouth, mm: along, and after a bend up. */
function portRun(box: Box) {
  const { port, shell } = box;
  const across = port.shape === 'round' ? port.diameterMm : port.slotHeightMm;
  const straightMm = port.isOutside
    ? port.lengthMm
    : panelOfPortMm(box) + Math.max(across, insideOf(shell).depthMm - across);
  const alongMm = port.bends === 0 ? port.lengthMm : Math.min(port.lengthMm, straightMm);
  return { across, alongMm, upMm: port.lengthMm - alongMm };
}

/** The port: its inner end is dragged along, the whole of it up and down. */
export function PortGrip({ box, edits, scale, isChosen, onChoose, released, dragKey }: HeldProps) {
  const { port, shell } = box;
  const { x, y, pxPerMm } = scale;
  const isRear = port.side === 'rear';
  const { across, alongMm, upMm } = portRun(box);
  const mouth = isRear ? -shell.depthMm : 0;
  // Into the box, or away from it.
  const inward = (isRear ? 1 : -1) * (port.isOutside ? -1 : 1);
  const inner = mouth + inward * alongMm;
  const middleMm = shell.wallMm + port.heightMm;
  const lengthTo = (mm: number) => round(Math.min(3000, Math.max(0, inward * (mm - mouth) + upMm)));
  const left = Math.min(inner, mouth);
  const drawn = { fill: 'var(--sheet)', stroke: 'var(--accent)', strokeWidth: 1.8 };
  return (
    <Grip
      label={`Port, ${whole(port.lengthMm)} mm long, ${whole(port.heightMm)} mm up`}
      isChosen={isChosen}
      onChoose={onChoose}
      at={{ x: x(inner), y: y(middleMm) }}
      onNudge={(along, up) =>
        along === 0
          ? edits.port(
              box,
              (now) => ({ heightMm: Math.max(0, round(now.heightMm + up)) }),
              'height of the port',
              'port height',
            )
          : edits.port(
              box,
              (now) => ({ lengthMm: Math.max(0, round(now.lengthMm + inward * along)) }),
              'length of the port',
              'port length',
            )
      }
      onDrag={(at) =>
        edits.port(
          box,
          {
            lengthMm: lengthTo(scale.mmX(at.x)),
            heightMm: Math.max(0, Math.round(scale.mmY(at.y) - shell.wallMm)),
          },
          'port',
          dragKey(),
        )
      }
      onRelease={released}
    >
      <rect
        x={x(left) - 4}
        y={y(middleMm + across / 2) - 4}
        width={alongMm * pxPerMm + 8}
        height={across * pxPerMm + 8}
        className="halo"
      />
      {upMm > 0 && (
        <rect
          x={x(Math.min(inner, inner - inward * across))}
          y={y(middleMm + across / 2 + upMm)}
          width={across * pxPerMm}
          height={upMm * pxPerMm}
          {...drawn}
        />
      )}
      <rect
        x={x(left)}
        y={y(middleMm + across / 2)}
        width={alongMm * pxPerMm}
        height={across * pxPerMm}
        {...drawn}
      />
    </Grip>
  );
}

export function BraceGrip({
  box,
  edits,
  scale,
  brace,
  index,
  isChosen,
  onChoose,
  released,
  dragKey,
}: HeldProps & { readonly brace: BoxBrace; readonly index: number }) {
  const { shell } = box;
  const { x, y, pxPerMm } = scale;
  const inside = insideOf(shell);
  const limit = { width: inside.widthMm, height: inside.heightMm, depth: inside.depthMm }[
    brace.across
  ];
  const setAt = (atNow: (mm: number) => number, key: string) =>
    edits.shell(
      box,
      ({ braces }) => ({
        braces: braces.map((one, b) =>
          b === index
            ? { ...one, atMm: Math.min(limit, Math.max(0, Math.round(atNow(one.atMm)))) }
            : one,
        ),
      }),
      'move a brace',
      key,
    );
  const left = -shell.depthMm + shell.wallMm;
  const half = brace.thicknessMm / 2;
  const isAcrossHeight = brace.across === 'height';
  const place = isAcrossHeight
    ? {
        x: x(left),
        y: y(shell.wallMm + brace.atMm + half),
        width: inside.depthMm * pxPerMm,
        height: brace.thicknessMm * pxPerMm,
      }
    : brace.across === 'depth'
      ? {
          x: x(-shell.frontMm - brace.atMm - half),
          y: y(shell.heightMm - shell.wallMm),
          width: brace.thicknessMm * pxPerMm,
          height: inside.heightMm * pxPerMm,
        }
      : {
          x: x(left),
          y: y(shell.heightMm - shell.wallMm),
          width: inside.depthMm * pxPerMm,
          height: inside.heightMm * pxPerMm,
        };
  return (
    <Grip
      label={`Brace ${index + 1}, across the ${brace.across} at ${whole(brace.atMm)} mm`}
      isChosen={isChosen}
      onChoose={onChoose}
      at={{ x: place.x + place.width / 2, y: place.y + place.height / 2 }}
      onNudge={(along, up) => setAt((mm) => mm + (isAcrossHeight ? up : -along), `brace ${index}`)}
      onDrag={(at) => {
        if (isAcrossHeight) setAt(() => scale.mmY(at.y) - shell.wallMm, dragKey());
        if (brace.across === 'depth') setAt(() => -scale.mmX(at.x) - shell.frontMm, dragKey());
      }}
      onRelease={released}
    >
      <rect {...place} className="halo" />
      <rect
        {...place}
        fill={brace.across === 'width' ? 'none' : 'var(--sheet)'}
        stroke={isChosen ? 'var(--accent)' : 'var(--ink)'}
        strokeDasharray="6 4"
      />
    </Grip>
  );
}
