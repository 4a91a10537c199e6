import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { situations, simulateClient, type SituationName } from '../../../core/index.ts';
import { analysisWorker, useSite } from '../../state/analysis.ts';
import { download } from '../../parts/download.ts';
import { Select } from '../../parts/inputs.tsx';

/** A client in a situation, as it looks at both ends. */
export default function ClientBench() {
  const site = useSite();
  const { peers, way } = site.vpn;
  const [chosen, setChosen] = useState('');
  const [situation, setSituation] = useState<SituationName>('mobile');
  if (way !== 'wireguard' || peers.length === 0) return null;
  const peer = peers.find(({ id }) => id === chosen) ?? peers[0]!;
  const { events, works, says } = simulateClient(site, peer, situation);
  const arrives = events.some(({ packet }) => packet && (packet.from === 'router' || packet.arrives));
  const save = async (end: 'client' | 'router'): Promise<void> => {
    const bytes = await analysisWorker().clientCapture(
      peer.id,
      situation,
      end,
      Math.floor(Date.now() / 1000),
    );
    if (bytes)
      download(
        `${peer.name} ${situation} at the ${end}.pcapng`.replace(/[^\w. -]/g, ''),
        [bytes as BlobPart],
        'application/x-pcapng',
      );
  };
  return (
    <section aria-labelledby="client">
      <Typography variant="h3" id="client">
        Simulate a remote user
      </Typography>
      <div className="bench-form">
        <label>
          Who
          <Select className="boxed" value={peer.id} onChange={({ target }) => setChosen(target.value)}>
            {peers.map(({ id, name, revoked }) => (
              <option key={id} value={id}>
                {name}
                {revoked ? ' (revoked)' : ''}
              </option>
            ))}
          </Select>
        </label>
        <label>
          Where
          <Select
            className="boxed"
            value={situation}
            onChange={({ target }) => setSituation(target.value as SituationName)}
          >
            {situations.map(({ name, title }) => (
              <option key={name} value={name}>
                {title}
              </option>
            ))}
          </Select>
        </label>
      </div>
      <p className={works ? 'bench-says' : 'bench-says bench-failed'}>{says}</p>
      <ol className="client-events" aria-label="What is seen at both ends">
        <li className="client-events-head" aria-hidden="true">
          <span />
          <span>At the client</span>
          <span>At the router</span>
        </li>
        {events.map((event, index) => (
          <li key={index}>
            <span className="mono">{event.at.toFixed(1)} s</span>
            <span>
              {event.end !== 'router' && event.says}
              <span className="hidden">{event.end === 'router' ? '' : ' (at the remote user)'}</span>
            </span>
            <span>{event.end !== 'client' && event.says}</span>
          </li>
        ))}
      </ol>
      {events.some(({ packet }) => packet) && (
        <div className="row-actions">
          <Button onClick={() => void save('client')}>Save the capture at the client</Button>
          <Button disabled={!arrives} onClick={() => void save('router')}>
            Save the capture at the router
          </Button>
          <span className="quiet">Keys of this rehearsal are in it, never those of the site.</span>
        </div>
      )}
    </section>
  );
}
