import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { followFrame, socketName, vlansInUse, type FrameTrip, type Site } from '../../../core/index.ts';
import { Select } from '../../parts/inputs.tsx';

/** A frame that is put in at a port, followed through switches that learn: question, answer, and what follows. */
export function FrameFollow({ site }: { site: Site }) {
  const { boxes, runs } = site.wiring;
  const [chosen, choose] = useState({ from: '', tag: '0', to: '' });
  const plugged = useMemo(() => new Set(runs.flatMap(({ ends }) => ends)), [runs]);
  const places = boxes
    .map((box) => ({
      box,
      // A box at the end sends by its cable; a switch takes a laptop in any port.
      sockets: box.sockets.filter(
        (socket) => plugged.has(socket) !== (box.kind === 'bridge' || box.kind === 'plain'),
      ),
    }))
    .filter(({ sockets }) => sockets.length > 0);
  const all = places.flatMap(({ sockets }) => sockets);
  const from = all.find((socket) => `${socket.at} ${socket.name}` === chosen.from);
  const to = boxes.find(({ id }) => id === chosen.to);
  const tags = useMemo(
    () => [
      0,
      ...vlansInUse(
        site.wiring,
        site.networks.flatMap(({ vlan }) => vlan ?? []),
      ),
    ],
    [site],
  );
  const trips = useMemo(
    () => (from ? followFrame(site, from, Number(chosen.tag), to) : []),
    [site, from, chosen.tag, to],
  );
  return (
    <>
      <div className="wiring-tools">
        <label className="wiring-follow">
          Put in at
          <Select
            className="boxed"
            value={from ? chosen.from : ''}
            onChange={({ target }) => choose({ ...chosen, from: target.value })}
          >
            <option value="">a port …</option>
            {places.map(({ box, sockets }) => (
              <optgroup key={box.id} label={box.name}>
                {sockets.map((socket) => (
                  <option key={socket.at + socket.name} value={`${socket.at} ${socket.name}`}>
                    {socketName(socket)}
                  </option>
                ))}
              </optgroup>
            ))}
          </Select>
        </label>
        <label className="wiring-follow">
          Tag
          <Select
            className="boxed"
            value={chosen.tag}
            onChange={({ target }) => choose({ ...chosen, tag: target.value })}
          >
            {tags.map((tag) => (
              <option key={tag} value={tag}>
                {tag === 0 ? 'untagged' : `VLAN ${tag}`}
              </option>
            ))}
          </Select>
        </label>
        <label className="wiring-follow">
          For
          <Select
            className="boxed"
            value={to ? chosen.to : ''}
            onChange={({ target }) => choose({ ...chosen, to: target.value })}
          >
            <option value="">everybody</option>
            {boxes
              .filter((box) => box !== from?.box && box.kind !== 'bridge' && box.kind !== 'plain')
              .map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
          </Select>
        </label>
      </div>
      {from && to && trips.length < 3 && (
        <p className="verdict verdict-bad" role="status">
          {to.name} never hears of it: the frame for everybody does not get there.
        </p>
      )}
      {trips.map((trip) => (
        <Trip key={trip.title} trip={trip} />
      ))}
    </>
  );
}

function Trip({ trip: { title, steps, arrived, circle } }: { trip: FrameTrip }) {
  return (
    <>
      <Typography variant="h4" className="sub">
        {title}
      </Typography>
      {steps.length === 0 && <p className="quiet">No cable is in that port.</p>}
      <ol className="wiring-hops">
        {steps.map(({ at, tag, says }) => (
          <li key={`${at.at} ${at.name} ${tag}`}>{says}</li>
        ))}
      </ol>
      {circle && (
        <p className="verdict verdict-bad">
          It comes back to where it was: a loop. The Bench shows what becomes of it, under LAN fault.
        </p>
      )}
      {!arrived && <p className="verdict verdict-bad">It does not arrive.</p>}
    </>
  );
}
