import { z } from 'zod';

// Its validators would be compiled by eval, which the page's policy refuses, with a complaint in
// the console.
z.config({ jitless: true });

/**
 * An id of one kind of thing. Text serves where nothing is known of it; an id of another kind is an
 * error.
 */
export type Id<Of extends string> = string & { readonly idOf?: Of };
export type PartId = Id<'part'>;
export type GroupId = Id<'group'>;
export type WayId = Id<'way'>;
export type DriverId = Id<'driver'>;
export type PairId = Id<'pair'>;
export type PanelId = Id<'panel'>;
export type BoxId = Id<'box'>;
export type MeasurementId = Id<'measurement'>;

const asId = <Of extends string>(schema: z.ZodString) =>
  schema as unknown as z.ZodType<Id<Of>, Id<Of>>;

/** Kinds of fields that the document's parts share. */
export const identifier = z.string().regex(/^[a-z0-9-]{1,40}$/);
export const name = z.string().trim().min(1).max(80);
export const positive = z.number().positive();
export const millimetres = z.number().min(-10_000).max(10_000);
export const hertz = positive.max(100_000);

export const partId = asId<'part'>(identifier);
export const groupId = asId<'group'>(identifier);
export const wayId = asId<'way'>(identifier);
export const driverId = asId<'driver'>(identifier);
export const pairId = asId<'pair'>(identifier);
export const panelId = asId<'panel'>(identifier);
export const boxId = asId<'box'>(identifier);

/** Name of a measurement's numbers, see `core/measurement/samples.ts`. */
export const fingerprint = asId<'measurement'>(z.string().regex(/^[0-9a-f]{32}$/));
