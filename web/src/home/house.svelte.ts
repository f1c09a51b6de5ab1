import type { OpenEar, ServerMessage, Schemas } from '../api/client';
import { socketAddress, tellOf, type LineEvents } from '../audio/line';

type Words = Schemas['Pressing' | 'Overruling' | 'Helping' | 'Marking'];

const FIRST_RETRY_MS = 500;
const LONGEST_RETRY_MS = 5000;
/** The device may not stay: it was forgotten, or may only look from now on. */
const SENT_OFF = 4003;

/** Which ears are open in the house, and the session that this window watches. */
class House {
  ears = $state.raw<OpenEar[]>([]);
  /** What this device is called. */
  device = $state('');

  private socket: WebSocket | null = null;
  private ready = false;
  private retryMs = FIRST_RETRY_MS;
  private watched: { session: string; events: Partial<LineEvents> } | null = null;

  /** Keeps a line to the house for as long as the page is there. */
  begin(): void {
    if (!this.socket) this.connect();
  }

  /** Watches a session wherever it is listened to; what comes is told. */
  watch(session: string, events: Partial<LineEvents>): void {
    this.watched = { session, events };
    this.sendWatched();
  }

  /** Watches a session no more. */
  leave(session: string): void {
    if (this.watched?.session !== session) return;
    this.watched = null;
    this.sendWatched();
  }

  /** Says something to the session that is watched; false while it cannot be heard. */
  say(said: Words): boolean {
    if (!this.ready) return false;
    this.socket?.send(JSON.stringify(said));
    return true;
  }

  private connect(): void {
    const socket = (this.socket = new WebSocket(socketAddress('/api/house')));
    socket.onopen = () => {
      this.ready = true;
      this.retryMs = FIRST_RETRY_MS;
      if (this.watched) this.sendWatched();
    };
    socket.onmessage = ({ data }) => {
      const message = JSON.parse(data as string) as ServerMessage;
      if (message.type === 'ears') {
        this.ears = message.ears;
        this.device = message.device;
      } else if (this.watched) tellOf(message, this.watched.events);
    };
    socket.onclose = ({ code }) => {
      this.ready = false;
      this.ears = [];
      if (code === SENT_OFF) location.reload();
      setTimeout(() => this.connect(), this.retryMs);
      this.retryMs = Math.min(2 * this.retryMs, LONGEST_RETRY_MS);
    };
  }

  private sendWatched(): void {
    if (this.ready)
      this.socket?.send(JSON.stringify({ type: 'watch', session: this.watched?.session ?? null }));
  }
}

export const house = new House();
