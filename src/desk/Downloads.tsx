'use client';
import { Download } from 'lucide-react';
import { useMemo } from 'react';
import { Menu, MenuItem, MenuTrigger, Popover } from 'react-aria-components';
import { impedanceTable, sumTable } from '@/core/formats/curveTables';
import { fileStem } from '@/core/text';
import { saveFile } from '@/ui/saveFile';
import { Button } from '@/ui/Button';
import { MenuSheet } from '@/ui/sheets';
import { namedMeasurements, writeProject } from '@/workers/filesClient';
import type { Action } from './actions';
import { exportVersions } from './api';
import type { Desk } from './desk';
import { useDesk, useDeskState } from './DeskContext';
import { shownKey } from '@/desk/curves/shownKey';

/** While the server is away its log can't be had; the name of the file says so. */
async function saveProjectFile(desk: Desk): Promise<void> {
  const { design } = desk.store.getState();
  const log = await desk
    .flush()
    .then(() => exportVersions(desk.projectId))
    .catch(() => null);
  await desk.loadSamples(await namedMeasurements({ design, log: log ?? [] }));
  const file = await writeProject({ design, data: desk.allSamples(), log: log ?? [] });
  saveFile(`${fileStem(design.name)}${log ? '' : ' without log'}.fair.zip`, file);
}

function saveTable(desk: Desk, what: 'sum' | 'impedance'): void {
  const { design, prediction } = desk.store.getState();
  const text = prediction && (what === 'sum' ? sumTable : impedanceTable)(design, prediction);
  if (text)
    saveFile(
      `${fileStem(design.name)}-${what === 'sum' ? 'response' : 'impedance'}.txt`,
      new Blob([text], { type: 'text/plain' }),
    );
}

async function saveDeck(desk: Desk): Promise<void> {
  const { design } = desk.store.getState();
  const text = await desk.workbench().deck(design);
  if (text !== null)
    saveFile(`${fileStem(design.name)}-network.cir`, new Blob([text], { type: 'text/plain' }));
}

/** What can be taken out of a project. */
export function useDownloadActions(): Action[] {
  const desk = useDesk();
  const hasSum = useDeskState(
    (state) => state.prediction?.sum !== null && state.prediction !== null,
  );
  const hasImpedance = useDeskState(
    (state) => state.prediction?.impedance !== null && state.prediction !== null,
  );
  return useMemo(
    () => [
      {
        id: 'save-project',
        group: 'Export',
        name: 'Whole project as one file',
        keys: ['Ctrl+S'],
        run: () => void saveProjectFile(desk),
      },
      {
        id: 'save-sum',
        group: 'Export',
        name: 'Summed response as a text table',
        keys: ['Ctrl+Shift+S'],
        isDisabled: !hasSum,
        run: () => saveTable(desk, 'sum'),
      },
      {
        id: 'save-impedance',
        group: 'Export',
        name: 'Impedance as a text table',
        keys: ['Ctrl+Shift+I'],
        isDisabled: !hasImpedance,
        run: () => saveTable(desk, 'impedance'),
      },
      {
        id: 'save-deck',
        group: 'Export',
        name: 'Network as a SPICE netlist',
        keys: ['Ctrl+Alt+N'],
        isDisabled: !hasImpedance,
        run: () => void saveDeck(desk),
      },
    ],
    [desk, hasSum, hasImpedance],
  );
}

/** The same as a menu in the top bar. */
export function Downloads() {
  const actions = useDownloadActions();
  return (
    <MenuTrigger>
      <Button>
        <Download size={14} aria-hidden /> Export
      </Button>
      <Popover>
        <MenuSheet>
          <Menu
            onAction={(key) => actions.find(({ id }) => id === key)?.run()}
            disabledKeys={actions.filter((a) => a.isDisabled).map((a) => a.id)}
          >
            {actions.map(({ id, name, keys }) => (
              <MenuItem key={id} id={id} textValue={name}>
                <span>{name}</span>
                <kbd>{shownKey(keys![0])}</kbd>
              </MenuItem>
            ))}
          </Menu>
        </MenuSheet>
      </Popover>
    </MenuTrigger>
  );
}
