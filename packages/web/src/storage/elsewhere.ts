/** What another page of this browser did to a case. */
export interface Happened {
  readonly id: string;
  readonly is: 'changed' | 'removed';
}

/** The other pages of this browser that have the application open. */
export class Elsewhere {
  readonly #channel = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel('bright-ferry');
  /** Called with what another page did. */
  onHappened: (what: Happened) => void = () => undefined;

  /** Called after it, for lists of cases. */
  onListChanged: () => void = () => undefined;

  constructor() {
    this.#channel?.addEventListener('message', (event) => {
      this.onHappened(event.data as Happened);
      this.onListChanged();
    });
    // Outside a browser an open channel would keep the process alive.
    (this.#channel as { unref?: () => void } | null)?.unref?.();
  }

  tell(what: Happened): void {
    this.#channel?.postMessage(what);
  }
}
