import { Desk } from './desk.ts';
import type { Reply, Request } from './protocol.ts';

const desk = new Desk();

self.addEventListener('message', ({ data }: MessageEvent<{ id: number; request: Request }>) => {
  self.postMessage(replyTo(data));
});

function replyTo({ id, request }: { id: number; request: Request }): Reply {
  try {
    return { id, value: desk.answer(request) };
  } catch (error) {
    return { id, error: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
}
