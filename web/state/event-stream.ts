import { signedFetch } from './proof.ts';

/** How long after a break the stream is asked for again. */
const againMs = 2_000;

/**
 * Server-sent events (HTML standard, section 9.2) over a signed request, which the browser's own reader of them cannot
 * send. A line of data is a `message`, a break is an `error`, and after it the stream is asked for again. A refusal to
 * somebody who is not signed in any more is the message "signed-out", and the end.
 */
export function eventStream(url: string): Pick<EventSource, 'addEventListener' | 'close'> {
  const target = new EventTarget();
  const stop = new AbortController();
  const tell = (data: string): void => void target.dispatchEvent(new MessageEvent('message', { data }));
  const follow = async (): Promise<void> => {
    const reply = await signedFetch(url, { method: 'GET', signal: stop.signal });
    if (reply.status === 401) {
      tell('signed-out');
      stop.abort();
      return;
    }
    if (!reply.ok || !reply.body) return;
    const reader = reply.body.pipeThrough(new TextDecoderStream()).getReader();
    let line = '';
    for (let next = await reader.read(); !next.done; next = await reader.read()) {
      const lines = (line + next.value).split('\n');
      line = lines.pop() ?? '';
      for (const each of lines) if (each.startsWith('data: ')) tell(each.slice('data: '.length));
    }
  };
  void (async () => {
    while (!stop.signal.aborted) {
      await follow().catch(() => {});
      if (stop.signal.aborted) return;
      target.dispatchEvent(new Event('error'));
      await new Promise((resolve) => setTimeout(resolve, againMs));
    }
  })();
  return {
    addEventListener: target.addEventListener.bind(target) as EventSource['addEventListener'],
    close: () => stop.abort(),
  };
}
