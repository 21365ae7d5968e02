import { z } from 'zod';

// Its validators would be compiled by eval, which the page's policy refuses, with a complaint in the console.
z.config({ jitless: true });

/** Kinds of fields that the document's parts share. */
export const identifier = z.string().regex(/^[a-z0-9-]{1,40}$/);
export const name = z.string().trim().min(1).max(80);
export const positive = z.number().positive();
export const millimetres = z.number().min(-10_000).max(10_000);
export const hertz = positive.max(100_000);

/** Name of a measurement's numbers, see `core/measurement/samples.ts`. */
export const fingerprint = z.string().regex(/^[0-9a-f]{32}$/);
