import type { RunCommand } from '#core/rehearse/printer-run.ts';
import {
  refusalSchema,
  statusSchema,
  type NewPrinter,
  type PrinterChange,
  type PrinterStatus,
} from './printer-api.ts';

/** Why a printer did not do what it was asked to, in words. */
export class PrinterRefusal extends Error {
  override readonly name = 'PrinterRefusal';
}

const NO_ANSWER =
  'The simulated printer does not answer. Is the server of the app still running? Start it, then start the rehearsal again.';

/** One printer behind the door of `/api/printer`, simulated or real. */
export class PrinterClient {
  #id: string | null = null;
  #events: EventSource | null = null;

  /** @param base address of the door, without a slash at its end */
  constructor(private readonly base = '/api/printer') {}

  /** Puts a printer up and hands it a file. */
  async begin(given: NewPrinter, file: Blob, signal: AbortSignal): Promise<PrinterStatus> {
    const { id } = await this.#ask('', { method: 'POST', body: JSON.stringify(given), signal });
    this.#id = id;
    return this.#ask(`/${id}/file`, {
      method: 'PUT',
      body: file,
      headers: { 'Content-Type': 'application/octet-stream' },
      signal,
    });
  }

  async command(command: RunCommand): Promise<PrinterStatus> {
    return this.#own('/commands', { method: 'POST', body: JSON.stringify(command) });
  }

  async change(change: PrinterChange): Promise<PrinterStatus> {
    return this.#own('', { method: 'PATCH', body: JSON.stringify(change) });
  }

  /** Hears of every change until it is closed. `onGone` is told when there is no such printer any more. */
  follow(onStatus: (status: PrinterStatus) => void, onGone: () => void): void {
    const events = new EventSource(`${this.base}/${this.#id ?? ''}/events`);
    this.#events?.close();
    this.#events = events;
    events.addEventListener('status', ({ data }: MessageEvent<string>) => {
      const status = statusSchema.safeParse(JSON.parse(data));
      if (status.success) onStatus(status.data);
    });
    events.addEventListener('error', () => {
      // The browser tries again by itself as long as somebody answers; what comes after a new start is another printer.
      void this.#own('', {}).catch(() => {
        if (this.#events !== events) return;
        events.close();
        onGone();
      });
    });
  }

  /** Lets the printer go; it is taken down. */
  close(): void {
    this.#events?.close();
    this.#events = null;
    if (this.#id !== null)
      void fetch(`${this.base}/${this.#id}`, { method: 'DELETE', keepalive: true }).catch(
        () => undefined,
      );
    this.#id = null;
  }

  async #own(path: string, init: RequestInit): Promise<PrinterStatus> {
    return this.#ask(`/${this.#id ?? ''}${path}`, init);
  }

  async #ask(path: string, init: RequestInit): Promise<PrinterStatus> {
    let response: Response;
    try {
      response = await fetch(`${this.base}${path}`, {
        ...init,
        headers: init.headers ?? { 'Content-Type': 'application/json' },
      });
    } catch (error) {
      if (error instanceof DOMException && error.name === 'AbortError') throw error;
      throw new PrinterRefusal(NO_ANSWER);
    }
    const body: unknown = await response.json().catch(() => null);
    if (!response.ok)
      throw new PrinterRefusal(
        refusalSchema.safeParse(body).data?.message ??
          `The simulated printer answered ${response.status}.`,
      );
    return statusSchema.parse(body);
  }
}
