import { fail, ok, type Result } from '../result';
import { keysOf, nth } from '../sure';

/** How a value is written as bytes and read again: one definition gives both. */
export type Codec<T> = { write(into: number[], value: T): void; read(from: Reader): T };

/** Bytes that are read from front to back. */
export class Reader {
  at = 0;
  constructor(private readonly bytes: Uint8Array) {}

  get isAtEnd(): boolean {
    return this.at === this.bytes.length;
  }

  byte(): number {
    if (this.isAtEnd) throw new Unreadable(`The memory ends at byte ${this.at}, in the middle of something.`);
    return nth(this.bytes, this.at++);
  }

  refuse(what: string): never {
    throw new Unreadable(`Byte ${this.at}: ${what}`);
  }
}

class Unreadable extends Error {}

export function toBytes<T>(codec: Codec<T>, value: T): Uint8Array {
  const into: number[] = [];
  codec.write(into, value);
  return Uint8Array.from(into);
}

/** What stands in bytes, all of them, or the place where they are none of this. */
export function fromBytes<T>(codec: Codec<T>, bytes: Uint8Array): Result<T, string> {
  const reader = new Reader(bytes);
  try {
    const value = codec.read(reader);
    return reader.isAtEnd ? ok(value) : fail(`Byte ${reader.at + 1}: something stands behind the end.`);
  } catch (error) {
    if (error instanceof Unreadable) return fail(error.message);
    throw error;
  }
}

/** A whole number from 0 to 2^31 − 1, seven bits a byte, the lowest first. Source: LEB128, DWARF 4, section 7.6. */
export const whole: Codec<number> = {
  write(into, value) {
    let rest = value;
    for (; rest > 0x7f; rest = Math.floor(rest / 128)) into.push((rest & 0x7f) | 0x80);
    into.push(rest);
  },
  read(from) {
    let value = 0;
    for (let shift = 1; shift <= 128 ** 4; shift *= 128) {
      const byte = from.byte();
      value += (byte & 0x7f) * shift;
      if (byte < 0x80) return value < 2 ** 31 ? value : from.refuse('this number is too large.');
    }
    return from.refuse('this number is too long.');
  },
};

/** Any number: eight bytes, the highest first. Source: IEEE 754, binary64. */
export const real: Codec<number> = {
  write(into, value) {
    const view = new DataView(new ArrayBuffer(8));
    view.setFloat64(0, value);
    for (let i = 0; i < 8; i++) into.push(view.getUint8(i));
  },
  read(from) {
    const view = new DataView(new ArrayBuffer(8));
    for (let i = 0; i < 8; i++) view.setUint8(i, from.byte());
    const value = view.getFloat64(0);
    return Number.isFinite(value) ? value : from.refuse('this is no number.');
  },
};

/** A whole number up to a limit. */
export const upTo = (most: number): Codec<number> => ({
  write: (into, value) => whole.write(into, value),
  read(from) {
    const value = whole.read(from);
    return value <= most ? value : from.refuse(`${value} is more than ${most}.`);
  },
});

export const flag: Codec<boolean> = {
  write: (into, value) => into.push(value ? 1 : 0),
  read(from) {
    const byte = from.byte();
    return byte <= 1 ? byte === 1 : from.refuse(`${byte} is neither 0 nor 1.`);
  },
};

/** How many characters, then the number of each in Unicode. */
export const text: Codec<string> = {
  write: (into, value) =>
    list(whole).write(
      into,
      [...value].map((c) => c.codePointAt(0) ?? 0),
    ),
  read: (from) =>
    list(upTo(0x10ffff))
      .read(from)
      .map((c) => String.fromCodePoint(c))
      .join(''),
};

/** How many there are, then one after the other. */
export const list = <T>(of: Codec<T>): Codec<readonly T[]> => ({
  write(into, value) {
    whole.write(into, value.length);
    for (const one of value) of.write(into, one);
  },
  read(from) {
    const values: T[] = [];
    for (let left = whole.read(from); left > 0; left--) values.push(of.read(from));
    return values;
  },
});

/** 0 where it is what it usually is, else 1 and what it is. Plain data. */
export const usually = <T>(usual: T, of: Codec<T>): Codec<T> => {
  const plain = JSON.stringify(usual);
  return {
    write(into, value) {
      const isUsual = JSON.stringify(value) === plain;
      flag.write(into, !isUsual);
      if (!isUsual) of.write(into, value);
    },
    read: (from) => (flag.read(from) ? of.read(from) : usual),
  };
};

export const orNone = <T>(of: Codec<T>): Codec<T | null> =>
  usually<T | null>(null, {
    write: (into, value) => value !== null && of.write(into, value),
    read: (from) => of.read(from),
  });

/** The place of a word in its list. */
export const word = <T extends string | number>(words: readonly T[]): Codec<T> => ({
  write: (into, value) => whole.write(into, words.indexOf(value)),
  read: (from) => nth(words, upTo(words.length - 1).read(from)),
});

/** Fields one after the other, in the order in which they are given. */
export const fields = <T extends object>(of: { readonly [K in keyof T]-?: Codec<T[K]> }): Codec<T> => {
  const names = keysOf<keyof T & string>(of);
  return {
    write(into, value) {
      for (const name of names) of[name].write(into, value[name]);
    },
    // Each field was read by its own codec.
    read: (from) => Object.fromEntries(names.map((name) => [name, of[name].read(from)])) as T,
  };
};

type Tagged = { readonly kind: string };
/** One of several kinds: its number in the table, then its fields without the kind. */
export const oneOf = <T extends Tagged>(kinds: {
  readonly [K in T['kind']]: Codec<Omit<Extract<T, { kind: K }>, 'kind'>>;
}): Codec<T> => {
  const names = keysOf(kinds);
  return {
    write(into, value) {
      // The table has each kind of the type.
      const kind = value.kind as T['kind'];
      whole.write(into, names.indexOf(kind));
      // A value has the fields of its kind.
      (kinds[kind] as Codec<unknown>).write(into, value);
    },
    read(from) {
      const kind = nth(names, upTo(names.length - 1).read(from));
      // As above.
      return { kind, ...(kinds[kind] as Codec<object>).read(from) } as T;
    },
  };
};

export const empty: Codec<object> = { write: () => undefined, read: () => ({}) };
