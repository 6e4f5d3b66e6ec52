/** A serial port of this browser's own machine, where the browser offers one. Lines are only fetched here. */

export interface SentLine {
  at_s: number;
  text: string;
}

interface BrowserPort {
  open(options: { baudRate: number }): Promise<void>;
  close(): Promise<void>;
  readable: ReadableStream<Uint8Array> | null;
}

interface BrowserSerial {
  requestPort(): Promise<BrowserPort>;
}

const offered = (): BrowserSerial | undefined => (navigator as Navigator & { serial?: BrowserSerial }).serial;

export const browserHasPorts = (): boolean => offered() !== undefined;

/** Asks for a port and gives the lines of some seconds. */
export async function listenHere(seconds: number): Promise<SentLine[]> {
  const serial = offered();
  if (!serial) return [];
  const port = await serial.requestPort();
  await port.open({ baudRate: 9600 });
  const lines: SentLine[] = [];
  const reader = port.readable?.getReader();
  const began = performance.now();
  const stop = window.setTimeout(() => void reader?.cancel(), seconds * 1000);
  const decoder = new TextDecoder();
  let held = "";
  try {
    for (;;) {
      const read = await reader?.read();
      if (!read || read.done) break;
      const parts = (held + decoder.decode(read.value, { stream: true })).split(/[\r\n]+/);
      held = (parts.pop() ?? "").slice(-200);
      const at = (performance.now() - began) / 1000;
      lines.push(...parts.filter(Boolean).map((text) => ({ at_s: at, text: text.slice(0, 200) })));
    }
  } finally {
    window.clearTimeout(stop);
    reader?.releaseLock();
    await port.close();
  }
  // The first may have begun before.
  return lines.length > 1 ? lines.slice(1) : lines;
}
