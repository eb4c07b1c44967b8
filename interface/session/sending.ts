import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Recipient } from '@/core/recipients/recipient';
import { sendFile, SendError, type Line } from '@/core/recipients/sending';
import type { Receipt } from '@/core/deliver/receipt';
import { toFailure } from '@/engine/failure';
import type { Failure } from '@/engine/protocol';
import type { DeliveredFile } from './deliveries/fileLine';

/** A file on its way to a recipient, or why it did not arrive. */
export interface SendLine {
  readonly recipient: Recipient;
  /** 0 to 1. */
  readonly done: number;
  readonly state: 'sending' | 'waiting' | 'failed';
  readonly failure: Failure | null;
}

/** The key that the server asks for where it listens elsewhere than on this machine; held for this visit only. */
export const serverKey: StoreApi<{ readonly key: string | null }> = createStore<{
  readonly key: string | null;
}>(() => ({ key: null }));

/** The way to the server that the product came from. */
export const lineHome: Line<Blob> = async (method, path, body) => {
  const { key } = serverKey.getState();
  const answer = await fetch(path, {
    method,
    ...(body !== null && { body }),
    headers: {
      'Content-Type': typeof body === 'string' ? 'application/json' : 'application/octet-stream',
      ...(key !== null && { Authorization: `Bearer ${key}` }),
    },
  });
  return { status: answer.status, data: (await answer.json().catch(() => null)) as unknown };
};

/** Sends files to recipients and brings their receipts. */
export class Sending {
  readonly store: StoreApi<ReadonlyMap<string, SendLine>> = createStore<ReadonlyMap<string, SendLine>>(
    () => new Map(),
  );
  private readonly given = new Map<string, AbortController>();

  constructor(private readonly answered: (key: string, receipt: Receipt) => void) {}

  private set(key: string, line: SendLine | null): void {
    this.store.setState((lines) => {
      const next = new Map(lines);
      if (line) next.set(key, line);
      else next.delete(key);
      return next;
    }, true);
  }

  /** Sends a file. @param key of the delivery's file @param blob its bytes @param set what all of a set have in common */
  async send(
    key: string,
    { name, sha256 }: DeliveredFile,
    blob: Blob,
    recipient: Recipient,
    set: string,
  ): Promise<void> {
    const before = this.store.getState().get(key);
    if (before && before.state !== 'failed') return;
    const controller = new AbortController();
    this.given.set(key, controller);
    this.set(key, { recipient, done: 0, state: 'sending', failure: null });
    try {
      const receipt = await sendFile(
        lineHome,
        recipient.id,
        {
          ...{ name, bytes: blob.size, sha256, piece: (from, to) => blob.slice(from, to) },
          ...(recipient.set && { set }),
        },
        ({ sent, waiting }) => {
          const state = waiting ? 'waiting' : 'sending';
          if (!controller.signal.aborted)
            this.set(key, { recipient, done: sent / blob.size, state, failure: null });
          return !controller.signal.aborted;
        },
        (ms) => new Promise((resolve) => setTimeout(resolve, ms)),
      );
      this.set(key, null);
      if (receipt) this.answered(key, receipt);
    } catch (error) {
      const failure: Failure =
        error instanceof SendError
          ? { code: error.code, message: error.message, hint: error.hint }
          : toFailure(error);
      this.set(key, { recipient, done: 0, state: 'failed', failure });
    }
  }

  /** Gives a file up; what arrived is taken back. */
  cancel(key: string): void {
    this.given.get(key)?.abort();
  }

  close(): void {
    for (const controller of this.given.values()) controller.abort();
  }
}
