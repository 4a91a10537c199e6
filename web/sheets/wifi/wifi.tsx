import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { lazy, memo, Suspense } from 'react';
import {
  type At,
  channelRules,
  expectedSignal,
  heardSchema,
  parseScan,
  radioSchema,
  rangesText,
  roomSchema,
  roomSignal,
  wifiNetworkSchema,
  type HeardPlan,
  type RadioPlan,
  type RoomPlan,
  type Site,
  type WifiNetworkPlan,
} from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { newId } from '../../state/api.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { Field } from '../../parts/field.tsx';
import { Figures } from '../../parts/figures.tsx';
import { PlanTable, RemoveButton, useRows } from '../../parts/rows.tsx';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { ChannelAdvice } from './channel-advice.tsx';
import { WifiSpectrum } from './wifi-spectrum.tsx';
import './wifi.css';

const WifiKey = lazy(() => import('./wifi-key.tsx'));

/** Names that devices join, the radios that serve them, and what else is in the air. */
export function Component() {
  return (
    <>
      <SheetHead
        title="Wi-Fi"
        says="Names that devices join, and the channels of the radios that serve them."
      />
      <Networks />
      <Radios />
      <WifiSpectrum />
      <Rooms />
      <HeardNetworks />
    </>
  );
}

function Networks() {
  const { ids, add, remove } = useRows<WifiNetworkPlan>('/wifi/networks');
  return (
    <section aria-labelledby="wifi-networks" data-at="/wifi/networks" tabIndex={-1}>
      <Typography variant="h3" id="wifi-networks">
        Wi-Fi networks
      </Typography>
      {ids.map((id, index) => (
        <NetworkCard key={id} index={index} remove={remove} />
      ))}
      {ids.length === 0 && <p className="empty">None yet: each name leads to one inside network.</p>}
      <div className="row-actions">
        <Button onClick={() => add(wifiNetworkSchema.parse({ id: newId() }), 'ssid')}>
          Add a Wi-Fi network
        </Button>
      </div>
    </section>
  );
}

const NetworkCard = memo(function NetworkCard({
  index,
  remove,
}: {
  index: number;
  remove: (index: number) => void;
}) {
  const at = `/wifi/networks/${index}` as const;
  const name = usePlanPiece((plan) => plan.wifi.networks[index]?.ssid ?? '') || 'Unnamed Wi-Fi network';
  const rest = (['isolation', 'hidden', 'wps', 'terms', 'sessionMinutes', 'until'] as const).map(
    (key): At => `${at}/${key}`,
  );
  return (
    <fieldset className="card" aria-label={name} data-at={at} tabIndex={-1}>
      <div className="card-head">
        <Typography variant="h3">{name}</Typography>
        <span className="quiet" />
        <RemoveButton what={name} onClick={() => remove(index)} />
      </div>
      <div className="ledger">
        <Field at={`${at}/ssid`} />
        <Field at={`${at}/network`} />
        <Field at={`${at}/security`} />
        <Field at={`${at}/secret`} />
      </div>
      <Suspense>
        <WifiKey index={index} />
      </Suspense>
      <Figures title="Isolation and guests" of={name} at={rest}>
        <div className="ledger">
          {rest.map((place) => (
            <Field key={place} at={place} />
          ))}
        </div>
      </Figures>
    </fieldset>
  );
});

function Radios() {
  const { radios } = useSite().wifi;
  return (
    <section aria-labelledby="radios" data-at="/wifi/radios" tabIndex={-1}>
      <Typography variant="h3" id="radios">
        Radios
      </Typography>
      <PlanTable<RadioPlan>
        at="/wifi/radios"
        columns={[
          ['box', 'l'],
          ['band', 'm'],
          ['channel', 's'],
          ['width', 'm'],
        ]}
        row={() => radioSchema.parse({ id: newId() })}
        what="radio"
        addLabel="Add a radio"
        empty="None yet. A box with two bands has two radios."
      />
      {radios.length > 0 && <RadioRest />}
      <CountryNote />
      <ChannelAdvice />
    </section>
  );
}

/** What few radios have: names of their own, a generation that is left out, a power that was set. */
function RadioRest() {
  const { radios } = useSite().wifi;
  const said = [
    radios.some(({ networks }, _index, all) => networks.length !== all[0]!.networks.length)
      ? 'not all names on all radios'
      : 'all names on all radios',
    radios.some(({ modes }) => modes !== 'any') ? 'older generations left out' : 'all generations',
    radios.some(({ power }) => power !== null) ? 'power set' : 'power at factory setting',
  ];
  return (
    <Figures
      title="Names and power"
      at={radios.flatMap(({ at }) =>
        (['networks', 'modes', 'power'] as const).map((key): At => `${at}/${key}`),
      )}
      says={said.join(' · ')}
    >
      {radios.map(({ at, name }) => (
        <div key={at} role="group" aria-label={name}>
          <p className="wifi-radio">{name}</p>
          <div className="ledger">
            <Field at={`${at}/networks`} />
            <Field at={`${at}/modes`} />
            <Field at={`${at}/power`} />
          </div>
        </div>
      ))}
    </Figures>
  );
}

/** What the country of the site allows, by the table here, and whom to ask. */
function CountryNote() {
  const { country } = useSite().about;
  const rules = channelRules(country);
  return (
    <p className="quiet">
      {rules
        ? `In ${country.trim().toUpperCase()}: 2.4 GHz ${rangesText(rules, '2.4')}; 5 GHz ${rangesText(rules, '5')}; 6 GHz ${rangesText(rules, '6')}. ${rules.source}. Power, outdoor use and radar have rules of their own: ask your regulator.`
        : 'Which channels are allowed is not known for the country of this site: ask your regulator.'}
    </p>
  );
}

/** Where Wi-Fi is promised: what is to be expected by arithmetic beside what was read. */
function Rooms() {
  const { rooms } = useSite().wifi;
  return (
    <section aria-labelledby="rooms" data-at="/wifi/rooms" tabIndex={-1}>
      <Typography variant="h3" id="rooms">
        Rooms
      </Typography>
      <PlanTable<RoomPlan>
        at="/wifi/rooms"
        columns={[
          ['name', 'l'],
          ['Wi-Fi network, radio', 'l'],
          ['Metres, floors', 'xs'],
          ['readings', 'sm'],
          ['wantedMbps', 's'],
          ['Signal and rate', 'ml'],
        ]}
        cell={(key, index) => {
          const at = `/wifi/rooms/${index}` as const;
          if (key === 'Wi-Fi network, radio')
            return (
              <>
                <Field bare at={`${at}/wifi`} />
                <Field bare at={`${at}/radio`} />
              </>
            );
          if (key === 'Metres, floors')
            return (
              <>
                <Field bare at={`${at}/metres`} placeholder="metres" />
                <Field bare at={`${at}/floors`} placeholder="floors" />
              </>
            );
          return key === 'Signal and rate' && rooms[index] ? <RoomCell room={rooms[index]} /> : undefined;
        }}
        row={() => roomSchema.parse({ id: newId() })}
        what="room"
        addLabel="Add a room"
        empty="None yet. A room with a promised rate becomes a promise that is measured at handover."
      />
    </section>
  );
}

function RoomCell({ room }: { room: Site['wifi']['rooms'][number] }) {
  const expected = expectedSignal(room);
  const signal = roomSignal(room);
  if (!signal) return null;
  const short = room.wantedMbps !== null && signal.rate.value < room.wantedMbps;
  return (
    <>
      {expected && (
        <span className="quiet">
          expected {Math.round(expected.low)} to {Math.round(expected.high)} dBm
          <br />
        </span>
      )}
      {signal.measured && (
        <>
          read {Math.round(signal.dbm)} dBm, median of {room.readings.length}
          {room.readings.length > 3 && (
            <>
              , half of them {Math.round(signal.from)} to {Math.round(signal.to)}
            </>
          )}
          <br />
        </>
      )}
      <span className={short ? 'weight-breaks' : undefined}>
        about {Math.round(signal.rate.value)} Mb/s{short ? ': too little' : ''}
      </span>
    </>
  );
}

function HeardNetworks() {
  const session = useSession();
  const { addAll } = useRows<HeardPlan>('/wifi/heard');
  const paste = (text: string): string[] => {
    const { heard, unread } = parseScan(text);
    const { networks } = session.snapshot().plan.wifi;
    const foreign = heard.filter(({ ssid }) => ssid === '' || !networks.some((own) => own.ssid === ssid));
    addAll(
      foreign.map(({ ssid, band, channel, width, signalDbm }) =>
        heardSchema.parse({
          id: newId(),
          ssid: ssid.slice(0, 32),
          band,
          channel,
          width: String(Math.min(width, 160)),
          signal: Math.round(signalDbm),
        }),
      ),
    );
    const own = heard.length - foreign.length;
    return [
      `${foreign.length} network${foreign.length === 1 ? '' : 's'} added.`,
      ...(own > 0 ? [`${own} of an own name left out.`] : []),
      ...(unread > 0 ? [`${unread} without channel or signal could not be used.`] : []),
    ];
  };
  return (
    <section aria-labelledby="heard" data-at="/wifi/heard" tabIndex={-1}>
      <Typography variant="h3" id="heard">
        Networks heard
      </Typography>
      <PlanTable<HeardPlan>
        at="/wifi/heard"
        columns={[
          ['ssid', 'l'],
          ['band', 'm'],
          ['channel', 's'],
          ['width', 'm'],
          ['signal', 'm'],
        ]}
        row={() => heardSchema.parse({ id: newId() })}
        what="network heard"
        addLabel="Add a network heard"
        paste={paste}
        pasteHint="What iw, iwlist, iwinfo, nmcli, wpa_cli, netsh, airport or the system's profile of it prints; a list with a heading; or name, channel and signal, one row each."
        empty="No scan yet. Paste one from the place where each radio will stand."
      />
    </section>
  );
}
