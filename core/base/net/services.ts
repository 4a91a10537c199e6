import type { PortRange, Protocol } from './ports.ts';
import { hasPort } from './ports.ts';

/** What it means that a service can be reached from the internet. */
export type ServiceNature =
  /** Made for trusted networks: searched for and broken into when open. */
  | 'never'
  /** Names, passwords and contents can be read on the way. */
  | 'clear'
  /** Encrypted, and its login is tried day and night. */
  | 'login'
  /** Mail: made for the internet, with rules of its own. */
  | 'mail'
  /** Encrypted, made for the internet. */
  | 'tls';

export interface KnownService {
  readonly port: number;
  readonly protocols: readonly Protocol[];
  /** Its name in IANA's service name and port number registry; empty where it is in use without being registered. */
  readonly registered: string;
  readonly nature: ServiceNature;
  readonly name: string;
  /** What to do instead; empty where nothing is better. */
  readonly safer: string;
}

type Row = readonly [
  port: number,
  protocol: Protocol | 'both' | 'either',
  registered: string,
  nature: ServiceNature,
  name: string,
  safer: string,
];

/**
 * Services by port: numbers and names of the registry where they are registered (RFC 6335); what each means on the
 * internet is common practice, no source. "either": one server uses TCP or UDP; "both": it needs both.
 */
const rows: readonly Row[] = [
  [20, 'tcp', 'ftp-data', 'clear', 'the data of FTP', 'use SFTP, or FTP inside TLS'],
  [21, 'tcp', 'ftp', 'clear', 'FTP', 'use SFTP, or FTP inside TLS'],
  [
    22,
    'tcp',
    'ssh',
    'login',
    'a shell (SSH)',
    'keys instead of passwords, and allowed sources only; or use the VPN',
  ],
  [23, 'tcp', 'telnet', 'never', 'Telnet', 'use SSH, and only through remote access'],
  [25, 'tcp', 'smtp', 'mail', 'a mail server (SMTP)', ''],
  [37, 'tcp', 'time', 'never', 'the time protocol', 'keep it inside'],
  [
    53,
    'both',
    'domain',
    'never',
    'a DNS server',
    'an open DNS server is used to attack others; keep it inside',
  ],
  [69, 'udp', 'tftp', 'never', 'TFTP', 'use the VPN instead'],
  [79, 'tcp', 'finger', 'never', 'Finger', 'use the VPN instead'],
  [80, 'tcp', 'www-http', 'clear', 'a web page without TLS', 'use HTTPS on 443 or another port'],
  [102, 'tcp', 'iso-tsap', 'never', 'an industrial controller (ISO transport)', 'use the VPN instead'],
  [110, 'tcp', 'pop3', 'clear', 'POP3', 'use POP3 over TLS, port 995'],
  [111, 'both', 'sunrpc', 'never', 'the port mapper', 'use the VPN instead'],
  [119, 'tcp', 'nntp', 'clear', 'NNTP', 'use the VPN instead'],
  [
    123,
    'udp',
    'ntp',
    'never',
    'a time server (NTP)',
    'an open time server is used to attack others; keep it inside',
  ],
  [135, 'tcp', 'epmap', 'never', 'remote procedure calls', 'use the VPN instead'],
  [137, 'udp', 'netbios-ns', 'never', 'file sharing (NetBIOS)', 'use the VPN instead'],
  [138, 'udp', 'netbios-dgm', 'never', 'file sharing (NetBIOS)', 'use the VPN instead'],
  [139, 'tcp', 'netbios-ssn', 'never', 'file sharing (NetBIOS)', 'use the VPN instead'],
  [143, 'tcp', 'imap', 'clear', 'IMAP', 'use IMAP over TLS, port 993'],
  [161, 'udp', 'snmp', 'never', 'SNMP', 'use the VPN instead'],
  [162, 'udp', 'snmptrap', 'never', 'SNMP notifications', 'use the VPN instead'],
  [389, 'both', 'ldap', 'clear', 'LDAP', 'use LDAP over TLS, port 636'],
  [443, 'either', 'https', 'tls', 'a web page with TLS', ''],
  [445, 'tcp', 'microsoft-ds', 'never', 'file sharing (SMB)', 'use the VPN instead'],
  [465, 'tcp', 'submissions', 'tls', 'mail submission with TLS', ''],
  [500, 'udp', 'isakmp', 'tls', 'IKE', ''],
  [502, 'tcp', 'mbap', 'never', 'an industrial controller (Modbus)', 'use the VPN instead'],
  [512, 'tcp', 'exec', 'never', 'remote execution without encryption', 'use SSH'],
  [513, 'tcp', 'login', 'never', 'remote login without encryption', 'use SSH'],
  [514, 'tcp', 'shell', 'never', 'a remote shell without encryption', 'use SSH'],
  [514, 'udp', 'syslog', 'never', 'a log server (syslog)', 'use the VPN instead'],
  [515, 'tcp', 'printer', 'never', 'a printer (LPD)', 'use the VPN instead'],
  [548, 'tcp', 'afpovertcp', 'never', 'file sharing (AFP)', 'use the VPN instead'],
  [
    554,
    'tcp',
    'rtsp',
    'clear',
    'a camera stream (RTSP)',
    'use the VPN instead; pictures of people are personal data',
  ],
  [587, 'tcp', 'submission', 'mail', 'mail submission', ''],
  [623, 'udp', 'asf-rmcp', 'never', 'remote management of a server (RMCP)', 'use the VPN instead'],
  [631, 'tcp', 'ipps', 'never', 'a printer (IPP)', 'use the VPN instead'],
  [636, 'tcp', 'ldaps', 'tls', 'LDAP with TLS', ''],
  [873, 'tcp', 'rsync', 'never', 'file copies (rsync)', 'use it through SSH'],
  [853, 'tcp', 'domain-s', 'tls', 'DNS over TLS', ''],
  [990, 'tcp', 'ftps', 'tls', 'FTP inside TLS', ''],
  [993, 'tcp', 'imaps', 'tls', 'IMAP with TLS', ''],
  [995, 'tcp', 'pop3s', 'tls', 'POP3 with TLS', ''],
  [1080, 'tcp', 'socks', 'never', 'a proxy (SOCKS)', 'use the VPN instead'],
  [1194, 'either', '', 'tls', 'a VPN', ''],
  [1433, 'tcp', 'ms-sql-s', 'never', 'a database', 'use the VPN instead'],
  [1434, 'udp', 'ms-sql-m', 'never', 'a database', 'use the VPN instead'],
  [1521, 'tcp', 'ncube-lm', 'never', 'a database', 'use the VPN instead'],
  [1701, 'udp', 'l2tp', 'never', 'L2TP', 'it does not encrypt: use a VPN that does'],
  [1723, 'tcp', 'pptp', 'never', 'PPTP', 'its encryption is broken: use another VPN'],
  [1883, 'tcp', 'mqtt', 'clear', 'MQTT', 'use MQTT over TLS, port 8883'],
  [1900, 'udp', 'ssdp', 'never', 'device discovery (SSDP)', 'keep it inside'],
  [2049, 'both', 'nfs', 'never', 'file sharing (NFS)', 'use the VPN instead'],
  [2375, 'tcp', 'docker', 'never', 'the management of containers', 'use the VPN instead'],
  [2404, 'tcp', 'iec-104', 'never', 'an industrial controller (IEC 60870-5-104)', 'use the VPN instead'],
  [3128, 'tcp', 'ndl-aas', 'never', 'a proxy', 'use the VPN instead'],
  [3260, 'tcp', 'iscsi-target', 'never', 'a disk (iSCSI)', 'use the VPN instead'],
  [3306, 'tcp', 'mysql', 'never', 'a database', 'use the VPN instead'],
  [3389, 'either', 'ms-wbt-server', 'never', 'remote desktop', 'use the VPN instead'],
  [3702, 'udp', 'ws-discovery', 'never', 'device discovery', 'keep it inside'],
  [4500, 'udp', 'ipsec-nat-t', 'tls', 'IPsec', ''],
  [4840, 'tcp', 'opcua-tcp', 'never', 'an industrial controller (OPC UA)', 'use the VPN instead'],
  [
    5060,
    'either',
    'sip',
    'clear',
    'call signalling (SIP)',
    'use SIP over TLS, port 5061, from the call provider only',
  ],
  [5061, 'tcp', 'sips', 'tls', 'call signalling with TLS', ''],
  [5353, 'udp', 'mdns', 'never', 'name discovery (mDNS)', 'keep it inside'],
  [5432, 'tcp', 'postgresql', 'never', 'a database', 'use the VPN instead'],
  [5555, 'tcp', 'personal-agent', 'never', 'the debugging port of a device', 'use the VPN instead'],
  [5671, 'tcp', 'amqps', 'tls', 'AMQP with TLS', ''],
  [5672, 'tcp', 'amqp', 'clear', 'AMQP', 'use AMQP over TLS, port 5671'],
  [5683, 'udp', 'coap', 'clear', 'CoAP', 'use CoAP over DTLS, port 5684'],
  [5900, 'tcp', 'rfb', 'never', 'remote desktop (RFB)', 'use the VPN instead'],
  [5901, 'tcp', '', 'never', 'remote desktop (RFB)', 'use the VPN instead'],
  [5984, 'tcp', 'couchdb', 'never', 'a database', 'use the VPN instead'],
  [5985, 'tcp', 'wsman', 'never', 'remote management without TLS', 'use the VPN instead'],
  [5986, 'tcp', 'wsmans', 'never', 'remote management', 'use the VPN instead'],
  [6379, 'tcp', 'redis', 'never', 'a database', 'use the VPN instead'],
  [8000, 'tcp', 'irdmi', 'clear', 'a web page without TLS', 'use HTTPS'],
  [8008, 'tcp', 'http-alt', 'clear', 'a web page without TLS', 'use HTTPS'],
  [8080, 'tcp', 'http-alt', 'clear', 'a web page without TLS', 'use HTTPS'],
  [8443, 'tcp', 'pcsync-https', 'tls', 'a web page with TLS', ''],
  [8883, 'tcp', 'secure-mqtt', 'tls', 'MQTT with TLS', ''],
  [8888, 'tcp', 'ddi-tcp-1', 'clear', 'a web page without TLS', 'use HTTPS'],
  [9000, 'tcp', 'cslistener', 'clear', 'a web page without TLS', 'use HTTPS'],
  [9100, 'tcp', 'pdl-datastream', 'never', 'a printer', 'use the VPN instead'],
  [9200, 'tcp', 'wap-wsp', 'never', 'a database', 'use the VPN instead'],
  [9443, 'tcp', 'tungsten-https', 'tls', 'a web page with TLS', ''],
  [
    10554,
    'tcp',
    '',
    'clear',
    'a camera stream (RTSP)',
    'use the VPN instead; pictures of people are personal data',
  ],
  [11211, 'both', 'memcache', 'never', 'a cache in memory', 'use the VPN instead'],
  [20000, 'both', 'dnp', 'never', 'an industrial controller (DNP)', 'use the VPN instead'],
  [27017, 'tcp', '', 'never', 'a database', 'use the VPN instead'],
  [44818, 'both', 'EtherNet/IP-2', 'never', 'an industrial controller (EtherNet/IP)', 'use the VPN instead'],
  [47808, 'udp', 'bacnet', 'never', 'building control (BACnet)', 'use the VPN instead'],
  [51820, 'udp', '', 'tls', 'a VPN', ''],
];

export const knownServices: readonly KnownService[] = rows.map(
  ([port, protocol, registered, nature, name, safer]) => ({
    port,
    protocols: protocol === 'both' || protocol === 'either' ? ['tcp', 'udp'] : [protocol],
    registered,
    nature,
    name,
    safer,
  }),
);

/** The services that ports and protocols open. */
export const servicesIn = (ports: PortRange, protocols: readonly Protocol[]): KnownService[] =>
  (ports.first === ports.last ? (byPort.get(ports.first) ?? []) : knownServices).filter(
    (service) => hasPort(ports, service.port) && service.protocols.some((each) => protocols.includes(each)),
  );

const byPort: ReadonlyMap<number, readonly KnownService[]> = new Map(
  [...new Set(knownServices.map(({ port }) => port))].map((port) => [
    port,
    knownServices.filter((service) => service.port === port),
  ]),
);
