/** An id for something new in a document: its kind and eight random digits, `part-3f9a01bc`. */
export const newId = (kind: string): string => `${kind}-${crypto.randomUUID().slice(0, 8)}`;
