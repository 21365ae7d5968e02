'use client';
import { Download } from 'lucide-react';
import { Menu, MenuItem, MenuSection, MenuTrigger, Popover, Header } from 'react-aria-components';
import type { Examination } from '@/core/insight/examine';
import type { Measurement } from '@/core/document/schema';
import { fileStem } from '@/core/text';
import { writeMeasurement, type MeasurementForm } from '@/core/formats/writeMeasurement';
import { useDesk } from '@/desk/DeskContext';
import { Button } from '@/ui/Button';
import { saveFile } from '@/ui/saveFile';
import { MenuSheet } from '@/ui/sheets';

const forms: Readonly<Record<MeasurementForm, string>> = {
  txt: 'text table',
  csv: 'comma-separated values',
  wav: 'impulse as WAV',
  s1p: 'Touchstone',
};

interface ExportMeasurementProps {
  readonly measurement: Measurement;
  readonly examination: Examination | null;
}

/** Exports a measurement, as it was measured or as its steps leave it. */
export function ExportMeasurement({ measurement, examination }: ExportMeasurementProps) {
  const desk = useDesk();
  const { id, name, kind, recipe } = measurement;
  const raw = desk.samples(id);
  const offered = (['txt', 'csv', kind === 'response' ? 'wav' : 's1p'] as const).filter(
    (form) => form !== 'wav' || raw?.phaseDeg,
  );
  const isConditioned = recipe.some(({ isOn }) => isOn);
  const take = (key: string) => {
    const [state, form] = key.split(' ') as ['raw' | 'used', MeasurementForm];
    const samples = state === 'used' ? examination?.conditioned.samples : raw;
    if (!samples) return;
    const content = writeMeasurement(
      samples,
      kind,
      form,
      `${name}, ${state === 'raw' ? 'as measured' : 'after its steps'}`,
      name,
    );
    saveFile(
      `${fileStem(name)}${state === 'used' ? ' used' : ''}.${form}`,
      new Blob([content as BlobPart]),
    );
  };
  return (
    <MenuTrigger>
      <Button aria-label="Export this measurement">
        <Download size={13} aria-hidden />
      </Button>
      <Popover>
        <MenuSheet>
          <Menu aria-label="Export" onAction={(key) => take(String(key))}>
            {(['raw', ...(isConditioned ? ['used'] : [])] as const).map((state) => (
              <MenuSection key={state}>
                <Header>{state === 'raw' ? 'As measured' : 'After its steps'}</Header>
                {offered.map((form) => (
                  <MenuItem key={form} id={`${state} ${form}`}>
                    {forms[form]}
                  </MenuItem>
                ))}
              </MenuSection>
            ))}
          </Menu>
        </MenuSheet>
      </Popover>
    </MenuTrigger>
  );
}
