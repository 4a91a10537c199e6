import { formatPorts, hasPort } from '../net/ports.ts';
import type { Check, Finding } from '../terms/finding.ts';
import type { Forward } from '../site/model.ts';
import { practice, step, worked } from '../worked/worked.ts';

interface KnownService {
  readonly port: number;
  readonly protocol: 'tcp' | 'udp';
  readonly name: string;
  /** never: made for trusted networks; clear: passwords and contents can be read on the way. */
  readonly kind: 'never' | 'clear';
  readonly safer: string;
}

const tunnel = 'use the VPN instead';

/** Registered ports (IANA service name and port number registry) of services that do not belong on the internet. */
const known: readonly KnownService[] = [
  {
    port: 23,
    protocol: 'tcp',
    name: 'Telnet',
    kind: 'never',
    safer: 'use SSH, and only through remote access',
  },
  { port: 69, protocol: 'udp', name: 'TFTP', kind: 'never', safer: tunnel },
  {
    port: 53,
    protocol: 'udp',
    name: 'a DNS server',
    kind: 'never',
    safer: 'an open DNS server is used to attack others; keep it inside',
  },
  { port: 111, protocol: 'tcp', name: 'the port mapper', kind: 'never', safer: tunnel },
  {
    port: 102,
    protocol: 'tcp',
    name: 'an industrial controller (ISO transport)',
    kind: 'never',
    safer: tunnel,
  },
  { port: 139, protocol: 'tcp', name: 'file sharing (NetBIOS)', kind: 'never', safer: tunnel },
  { port: 161, protocol: 'udp', name: 'SNMP', kind: 'never', safer: tunnel },
  { port: 445, protocol: 'tcp', name: 'file sharing (SMB)', kind: 'never', safer: tunnel },
  { port: 502, protocol: 'tcp', name: 'an industrial controller (Modbus)', kind: 'never', safer: tunnel },
  { port: 1433, protocol: 'tcp', name: 'a database', kind: 'never', safer: tunnel },
  { port: 1900, protocol: 'udp', name: 'device discovery (SSDP)', kind: 'never', safer: 'keep it inside' },
  { port: 2049, protocol: 'tcp', name: 'file sharing (NFS)', kind: 'never', safer: tunnel },
  { port: 3306, protocol: 'tcp', name: 'a database', kind: 'never', safer: tunnel },
  { port: 3389, protocol: 'tcp', name: 'remote desktop', kind: 'never', safer: tunnel },
  { port: 5432, protocol: 'tcp', name: 'a database', kind: 'never', safer: tunnel },
  { port: 5900, protocol: 'tcp', name: 'remote desktop (RFB)', kind: 'never', safer: tunnel },
  { port: 6379, protocol: 'tcp', name: 'a database', kind: 'never', safer: tunnel },
  { port: 9100, protocol: 'tcp', name: 'a printer', kind: 'never', safer: tunnel },
  { port: 20000, protocol: 'tcp', name: 'an industrial controller (DNP)', kind: 'never', safer: tunnel },
  { port: 47808, protocol: 'udp', name: 'building control (BACnet)', kind: 'never', safer: tunnel },
  { port: 21, protocol: 'tcp', name: 'FTP', kind: 'clear', safer: 'use SFTP, or FTP inside TLS' },
  {
    port: 80,
    protocol: 'tcp',
    name: 'a web page without TLS',
    kind: 'clear',
    safer: 'use HTTPS on 443 or another port',
  },
  { port: 110, protocol: 'tcp', name: 'POP3', kind: 'clear', safer: 'use POP3 over TLS, port 995' },
  { port: 143, protocol: 'tcp', name: 'IMAP', kind: 'clear', safer: 'use IMAP over TLS, port 993' },
  { port: 389, protocol: 'tcp', name: 'LDAP', kind: 'clear', safer: 'use LDAP over TLS, port 636' },
  {
    port: 554,
    protocol: 'tcp',
    name: 'a camera stream (RTSP)',
    kind: 'clear',
    safer: `${tunnel}; pictures of people are personal data`,
  },
  { port: 1883, protocol: 'tcp', name: 'MQTT', kind: 'clear', safer: 'use MQTT over TLS, port 8883' },
  {
    port: 5060,
    protocol: 'udp',
    name: 'call signalling (SIP)',
    kind: 'clear',
    safer: 'use SIP over TLS, port 5061, from the call provider only',
  },
  { port: 8080, protocol: 'tcp', name: 'a web page without TLS', kind: 'clear', safer: 'use HTTPS' },
];

const uses = (forward: Forward, service: KnownService): boolean =>
  (forward.protocol === 'both' || forward.protocol === service.protocol) &&
  forward.inside !== undefined &&
  hasPort(forward.inside, service.port);

/** Services that should not face the internet, or not in clear text, judged by the port they answer on inside. */
export const exposed: Check = {
  name: 'exposed',
  run: (site) => {
    return site.forwards.flatMap((forward): Finding[] => {
      const service = known.find((each) => uses(forward, each));
      if (!service || !forward.inside) return [];
      // A source list that cannot be read admits nobody: that is a finding of its own, and nothing is shown.
      if (forward.allowed.kind === 'nobody') return [];
      const open = forward.allowed.kind === 'everybody';
      const who = open ? 'anybody on the internet' : 'the allowed sources';
      const never = service.kind === 'never';
      return [
        {
          rule: never ? 'exposed-never' : 'exposed-clear',
          severity: never && open ? 'blocker' : never || open ? 'warning' : 'advice',
          at: `${forward.at}/device`,
          also: [`${forward.at}/sources`],
          says: never
            ? `Forward "${forward.name}" shows ${service.name} of ${forward.device?.name ?? 'a device'} to ${who}. It was made for trusted networks and is searched for and broken into within hours. Safer: ${service.safer}.`
            : `Forward "${forward.name}" carries ${service.name} in clear text: names, passwords and contents can be read on the way. Safer: ${service.safer}.`,
          why: worked(
            'Service by its port',
            service.name,
            '',
            [
              step('inside port', formatPorts(forward.inside)),
              step(`${service.protocol} ${service.port} is`, service.name),
              step('allowed sources', forward.allowed.says),
            ],
            'IANA service name and port number registry (from memory)',
          ),
          source: `${practice}; port: IANA registry (from memory)`,
        },
      ];
    });
  },
};
