import { emptySheet } from '@/core/document/briefSchema';
import { fieldWords } from './fieldWords';

test('fields are told as the trade says them, and units apart', () => {
  expect(['sdCm2', 'qes', 'fsHz', 'leadOhm', 'setBackMm', 'name'].map(fieldWords)).toEqual([
    'Sd, cm²',
    'Qes',
    'fs, Hz',
    'lead, Ω',
    'set back, mm',
    'name',
  ]);
});

test('no field of a data sheet is told by its name in the document', () => {
  for (const field of Object.keys(emptySheet))
    expect(fieldWords(field).split(',')[0]).not.toMatch(/[a-z][A-Z]/);
});
