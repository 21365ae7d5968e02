'use client';
import { Check, ChevronDown } from 'lucide-react';
import {
  Button,
  Label,
  ListBox,
  ListBoxItem,
  Popover,
  Select,
  SelectValue,
} from 'react-aria-components';
import styled from 'styled-components';
import { fieldLook, labelLook } from './field';
import { MenuSheet } from '@/ui/sheets';

export interface Option<T extends string> {
  readonly id: T;
  readonly text: string;
}

interface ChoiceProps<T extends string> {
  readonly label: string;
  readonly options: readonly Option<T>[];
  readonly value: T | null;
  readonly onChange: (value: T) => void;
  readonly placeholder?: string;
  /** The label is for screen readers only. */
  readonly hideLabel?: boolean;
}

/** One of a few, chosen from a list that opens in place. */
export function Choice<T extends string>({
  label,
  options,
  value,
  onChange,
  placeholder = 'choose …',
  hideLabel,
}: ChoiceProps<T>) {
  return (
    <Frame
      selectedKey={value}
      onSelectionChange={(key) => key !== null && onChange(key as T)}
      placeholder={placeholder}
      {...(hideLabel ? { 'aria-label': label } : {})}
    >
      {!hideLabel && <Label>{label}</Label>}
      <Button>
        <SelectValue />
        <ChevronDown size={14} aria-hidden />
      </Button>
      <Popover>
        <MenuSheet>
          <ListBox items={options}>
            {({ id, text }) => (
              <ListBoxItem id={id} textValue={text}>
                {({ isSelected }) => (
                  <>
                    <span>{text}</span>
                    {isSelected && <Check size={14} aria-hidden />}
                  </>
                )}
              </ListBoxItem>
            )}
          </ListBox>
        </MenuSheet>
      </Popover>
    </Frame>
  );
}

const Frame = styled(Select)`
  display: grid;
  gap: 0.15rem;
  min-width: 0;
  .react-aria-Label {
    ${labelLook}
  }
  button {
    ${fieldLook}
    display: flex;
    justify-content: space-between;
    align-items: center;
    gap: 0.5em;
    text-align: left;
    cursor: pointer;
    width: 100%;
    > span {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
  }
` as unknown as typeof Select;
