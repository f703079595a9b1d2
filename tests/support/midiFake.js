/*
 * A stand-in for the browser's MIDI system after the interface of the W3C draft "Web MIDI API": EventTarget ports,
 * iterable maps, asynchronous opening, `send` that refuses running status and incomplete messages with TypeError,
 * connection events. Runs in the page before its own scripts. `window.midiFake` is the other end of the cables.
 */
(() => {
  const LENGTH = { 0x80: 3, 0x90: 3, 0xa0: 3, 0xb0: 3, 0xc0: 2, 0xd0: 2, 0xe0: 3 };
  const COMMON = { 0xf1: 2, 0xf2: 3, 0xf3: 2, 0xf6: 1 };

  /** Throws TypeError unless `bytes` is one or more complete messages, each with its status byte. */
  function validate(bytes) {
    let i = 0;
    while (i < bytes.length) {
      const status = bytes[i];
      if (!(status >= 0x80)) throw new TypeError(`Running status is not allowed at index ${i}`);
      if (status === 0xf0) {
        const end = bytes.indexOf(0xf7, i);
        if (end < 0) throw new TypeError('System exclusive message was not ended');
        i = end + 1;
        continue;
      }
      const length = status >= 0xf8 ? 1 : (COMMON[status] ?? LENGTH[status & 0xf0]);
      if (!length) throw new TypeError(`Reserved status ${status}`);
      const data = bytes.slice(i + 1, i + length);
      if (data.length !== length - 1 || data.some((b) => b > 127))
        throw new TypeError(`Message at index ${i} is incomplete`);
      i += length;
    }
  }

  class Port extends EventTarget {
    constructor(access, type, name, id = `${type}-${name}`) {
      super();
      Object.assign(this, { access, type, name, id, manufacturer: '', version: '1' });
      this.state = 'connected';
      this.connection = 'closed';
      this.onstatechange = null;
    }
    async open() {
      await null;
      if (this.isHeld) throw new DOMException('Another program holds the port', 'InvalidAccessError');
      this.connection = this.state === 'connected' ? 'open' : 'pending';
      return this;
    }
    async close() {
      await null;
      this.connection = 'closed';
      return this;
    }
  }
  class Input extends Port {
    #handler = null;
    get onmidimessage() {
      return this.#handler;
    }
    set onmidimessage(handler) {
      if (this.#handler) this.removeEventListener('midimessage', this.#handler);
      this.#handler = handler;
      if (handler) this.addEventListener('midimessage', handler);
      void this.open();
    }
  }
  class Output extends Port {
    sent = [];
    send(data, timestamp = 0) {
      const bytes = [...data];
      validate(bytes);
      if (bytes.includes(0xf0) && !this.access.sysexEnabled)
        throw new DOMException('No SysEx', 'InvalidAccessError');
      if (this.state !== 'connected') throw new DOMException('Port is gone', 'InvalidStateError');
      this.sent.push({ bytes, timestamp });
      window.midiFake.onSent?.();
    }
    clear() {}
  }
  class Access extends EventTarget {
    inputs = new Map();
    outputs = new Map();
    onstatechange = null;
    constructor(sysexEnabled) {
      super();
      this.sysexEnabled = sysexEnabled;
    }
    change(port, state) {
      port.state = state;
      if (state === 'disconnected') port.connection = 'closed';
      const event = new Event('statechange');
      event.port = port;
      port.dispatchEvent(event);
      this.dispatchEvent(event);
    }
  }

  /*
   * The message that is on its way, with the time at which it came. The event is the browser's own, with nothing added
   * to it: one that carries properties of ours outlives every small collection, which the browser's do not.
   */
  let arriving = null;
  const { get: madeAt } = Object.getOwnPropertyDescriptor(Event.prototype, 'timeStamp');
  Object.defineProperty(Event.prototype, 'timeStamp', {
    configurable: true,
    get() {
      return arriving?.event === this ? arriving.atMs : madeAt.call(this);
    },
  });

  /** A test may want other ports: interfaces whose ports all have one name, and several of them. */
  const NAMES = window.midiNames ?? {
    inputs: ['Blue box 1', 'Twig small'],
    outputs: ['Blue box A', 'Laptop bus'],
  };
  let access = null;
  navigator.requestMIDIAccess = async (options = {}) => {
    await null;
    if (access) return access;
    access = new Access(options.sysex === true);
    NAMES.inputs.forEach((name, i) => {
      const id = `input-${name}-${i}`;
      access.inputs.set(id, new Input(access, 'input', name, id));
    });
    NAMES.outputs.forEach((name, i) => {
      const id = `output-${name}-${i}`;
      access.outputs.set(id, new Output(access, 'output', name, id));
    });
    return access;
  };
  /** `Box (2)` is the second of that name. */
  const find = (map, shown) => {
    const [, name, nth] = /^(.*?)(?: \((\d+)\))?$/.exec(shown);
    return [...map.values()].filter((p) => p.name === name)[(nth ?? 1) - 1];
  };
  window.midiFake = {
    /** Called after each message that was sent. */
    onSent: null,
    /** Bytes arrive at an input, as raw as they are given. */
    deliver(name, bytes, atMs = performance.now()) {
      // Nobody has asked for the ports: nobody hears.
      if (!access) return;
      arriving = { event: new MIDIMessageEvent('midimessage', { data: Uint8Array.from(bytes) }), atMs };
      find(access.inputs, name).dispatchEvent(arriving.event);
      arriving = null;
    },
    sent: (name) => (access ? find(access.outputs, name).sent.map((s) => s.bytes) : []),
    unplug: (name) => access.change(find(access.inputs, name) ?? find(access.outputs, name), 'disconnected'),
    /** Another program takes a port for itself, or lets go of it. */
    hold(name, isHeld) {
      const port = find(access.inputs, name) ?? find(access.outputs, name);
      port.isHeld = isHeld;
      access.change(port, 'connected');
    },
    plug: (name) => access.change(find(access.inputs, name) ?? find(access.outputs, name), 'connected'),
  };
})();
