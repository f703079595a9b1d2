/**
 * A register is the place in a device that a message writes: a controller, half of a bank number, a program, a parameter,
 * the bend, pressure, a note, a track that is armed. It is known by a text of device, channel and what it is. Several rows
 * of a chart may name the values of one register, and one row may need several: a 14-bit pair, a bank and its program.
 */
export type RegisterKey = string;

/** What one register is told; `null` where something moves it and nothing tells where to. */
export type RegisterWrite = { readonly key: RegisterKey; readonly value: number | null };

/** What registers hold, `null` where that is not known; one that is not here was never told. */
export type Registers = Readonly<Record<RegisterKey, number | null>>;

/** Looks a register up: `null` where it is not known what it holds, `undefined` where it was never told. */
export type RegisterAt = (key: RegisterKey) => number | null | undefined;
