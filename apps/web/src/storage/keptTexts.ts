/** Small texts kept by name: the browser's storage, or what stands in for it. */
export type TextStore = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

/** Keeps texts as long as the page is open. */
class PageTexts implements TextStore {
  private readonly texts = new Map<string, string>();
  get length(): number {
    return this.texts.size;
  }
  key = (index: number): string | null => [...this.texts.keys()][index] ?? null;
  getItem = (name: string): string | null => this.texts.get(name) ?? null;
  setItem = (name: string, text: string): void => void this.texts.set(name, text);
  removeItem = (name: string): void => void this.texts.delete(name);
}

export type KeptTexts = {
  readonly store: TextStore;
  /** The browser refuses to keep anything: what is written is gone with the page. */
  readonly isRefused: boolean;
};

/**
 * The texts that a browser keeps, or a stand-in as long as the page is open where it refuses to.
 * Source: HTML, Web storage: to touch the storage throws a SecurityError where it is refused.
 */
export function keptTexts(storage: () => Storage): KeptTexts {
  try {
    return { store: storage(), isRefused: false };
  } catch {
    return { store: new PageTexts(), isRefused: true };
  }
}

/** For all visits to this address, in all windows. */
export const lasting = keptTexts(() => window.localStorage);
/** For this window, also when it is loaded anew. */
export const ofWindow = keptTexts(() => window.sessionStorage);
