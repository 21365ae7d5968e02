'use client';
import { FileDown } from 'lucide-react';
import { useState } from 'react';
import { Menu, MenuItem, MenuTrigger, Popover } from 'react-aria-components';
import { Button } from './Button';
import { saveFile } from './saveFile';
import { messageOf } from '@/core/problem';
import { MenuSheet, Note } from './sheets';

/** One form in which something can be had. */
export interface ExportForm {
  readonly id: string;
  readonly text: string;
  /** After the name of the file: “csv”, “orbits.zip”. */
  readonly ending: string;
  readonly mediaType: string;
  /** What the file will hold. An error that it throws is told beside the menu. */
  readonly make: () => BlobPart | Promise<BlobPart>;
}

interface ExportMenuProps {
  readonly label?: string;
  /** Name of the file, before its ending. */
  readonly stem: string;
  readonly forms: readonly ExportForm[];
  readonly isDisabled?: boolean;
}

/** Saves something as a file in one of several forms. */
export function ExportMenu({ label = 'Export', stem, forms, isDisabled = false }: ExportMenuProps) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const take = async ({ ending, mediaType, make }: ExportForm) => {
    setTrouble(null);
    try {
      saveFile(`${stem}.${ending}`, new Blob([await make()], { type: mediaType }));
    } catch (error) {
      setTrouble(messageOf(error));
    }
  };
  return (
    <>
      <MenuTrigger>
        <Button isDisabled={isDisabled}>
          <FileDown size={14} aria-hidden /> {label}
        </Button>
        <Popover placement="bottom end">
          <MenuSheet>
            <Menu onAction={(key) => void take(forms.find(({ id }) => id === key)!)}>
              {forms.map(({ id, text }) => (
                <MenuItem key={id} id={id}>
                  {text}
                </MenuItem>
              ))}
            </Menu>
          </MenuSheet>
        </Popover>
      </MenuTrigger>
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
    </>
  );
}
