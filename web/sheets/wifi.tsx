import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { memo, useMemo } from 'react';
import {
  heardSchema,
  parseScan,
  radioSchema,
  recommendedChannels,
  wifiNetworkSchema,
  type HeardPlan,
  type RadioPlan,
  type WifiNetworkPlan,
} from '../../core/index.ts';
import { useSite } from '../app/analysis.ts';
import { newId } from '../app/api.ts';
import { usePlanPiece, useSession } from '../app/session.ts';
import { Field } from '../parts/field.tsx';
import { Figures } from '../parts/figures.tsx';
import { PlanTable, RemoveButton, useRows } from '../parts/rows.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { WifiSpectrum } from './wifi-spectrum.tsx';
import './wifi.css';

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
  const at = `/wifi/networks/${index}`;
  const name = usePlanPiece((plan) => plan.wifi.networks[index]?.ssid ?? '') || 'Unnamed Wi-Fi network';
  const rest = ['isolation', 'hidden', 'wps'].map((key) => `${at}/${key}`);
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
      <Figures title="Isolation, hiding, WPS" of={name} at={rest}>
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
  const session = useSession();
  const site = useSite();
  const best = useMemo(() => recommendedChannels(site), [site]);
  const { radios } = site.wifi;
  const differs = best?.choices.some(({ channel }, index) => radios[index]?.channel !== channel) ?? false;
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
          ['power', 'm'],
        ]}
        row={() => radioSchema.parse({ id: newId() })}
        what="radio"
        addLabel="Add a radio"
        empty="None yet. A box with two bands has two radios."
      />
      {best && (
        <div className="wifi-best">
          <p>
            Least busy for all together:{' '}
            <strong>
              {best.choices.map(({ channel }, index) => `${radios[index]!.name} on ${channel}`).join('; ')}
            </strong>
            . Others then take {Math.round((best.busy / best.choices.length) * 100)} % of the time of each on
            average
            {best.exact ? '.' : ', as far as was searched.'} Ask your regulator which channels are allowed.
          </p>
          {differs && (
            <Button
              onClick={() =>
                session.editAll(
                  Object.fromEntries(
                    best.choices.map(({ channel }, index) => [`/wifi/radios/${index}/channel`, channel]),
                  ),
                )
              }
            >
              Take these channels
            </Button>
          )}
        </div>
      )}
    </section>
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
        pasteHint="What iw, iwlist, nmcli, netsh or the system's profile of the airport prints; or name, channel and signal, one row each."
        empty="No scan yet. Paste one from the place where each radio will stand."
      />
    </section>
  );
}
