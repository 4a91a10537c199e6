/** Letters as people write them (invented), each with facts that must be read in it, and nothing else of a line. */
export interface HandWritten {
  readonly name: string;
  readonly text: string;
  readonly lines: readonly Readonly<Record<string, unknown>>[];
  readonly secrets: readonly string[];
  readonly devices: readonly (readonly [kind: string, count: number, address: string])[];
}

export const byHand: readonly HandWritten[] = [
  {
    name: 'a correction above the mail it answers',
    text: `From: provisioning@quayline.example
To: tom@install.example
Subject: RE: RE: Activation QL-22817 - Harbour Bakery

Hi Tom,

sorry for the mix-up below, the tag is 31 and not 8. Everything else stays.

Cheers
Mia

On 12 Nov 2026 Tom wrote:
> Hi Mia, can you confirm the details?
>> Circuit QL-22817, FTTP 500/100
>> PPPoE, user harbour-bakery@quayline.example
>> VLAN 8, MTU 1492
>> Static IP 203.0.113.44`,
    lines: [
      {
        backup: false,
        vlan: 31,
        medium: 'fibre',
        downMbps: 500,
        upMbps: 100,
        type: 'pppoe',
        userName: 'harbour-bakery@quayline.example',
        mtuBytes: 1492,
        address: '203.0.113.44',
      },
    ],
    secrets: [],
    devices: [],
  },
  {
    name: 'lines as columns',
    text: `                Line 1            Line 2
Technology      FTTP              LTE
Speed           500/100 Mbit/s    150/50 Mbit/s
WAN type        PPPoE             -
User name       bakery@q.example  -
VLAN            7                 -
APN             -                 internet.quayline.example`,
    lines: [
      {
        backup: false,
        medium: 'fibre',
        downMbps: 500,
        upMbps: 100,
        type: 'pppoe',
        userName: 'bakery@q.example',
        vlan: 7,
      },
      { backup: true, medium: 'cellular', downMbps: 150, upMbps: 50, apn: 'internet.quayline.example' },
    ],
    secrets: [],
    devices: [],
  },
  {
    name: 'a form with boxes, a routed block before the link',
    text: `ORDER FORM

[x] Fibre   [ ] DSL   [ ] Cable
[ ] DHCP    [x] Static IP    [ ] PPPoE
Speed:  [ ] 100/40   [x] 500/250   [ ] 1000/500
IP block: 203.0.113.128/29 (routed), link 198.51.100.10/30, gw 198.51.100.9
DNS: 192.0.2.53 192.0.2.54
VLAN tagged: [ ] yes [x] no`,
    lines: [
      {
        backup: false,
        medium: 'fibre',
        downMbps: 500,
        upMbps: 250,
        prefixLength: 30,
        gateway: '198.51.100.9',
        resolvers: ['192.0.2.53', '192.0.2.54'],
        address: '198.51.100.10',
        routedBlock: '203.0.113.128/29',
        type: 'static',
      },
    ],
    secrets: [],
    devices: [],
  },
  {
    name: 'no umlauts, a backup in the same row',
    text: `Moin Lars, hier die Daten fuer die Baeckerei am Hafen: Glasfaser 1000/250, PPPoE. User: 0471-1122@nordlicht.example, PW kommt per SMS. VLAN 7, MTU 1492. Als Backup nehmen wir die LTE-Karte (APN internet.nordlicht, PIN 4411, 50 GB). Drucker steht auf 192.168.20.10. Keine Kameras.`,
    lines: [
      {
        backup: false,
        medium: 'fibre',
        downMbps: 1000,
        upMbps: 250,
        type: 'pppoe',
        userName: '0471-1122@nordlicht.example',
        vlan: 7,
        mtuBytes: 1492,
      },
      { backup: true, medium: 'cellular', apn: 'internet.nordlicht', capGigabytes: 50 },
    ],
    secrets: ['4411'],
    devices: [['printer', 1, '192.168.20.10']],
  },
  {
    name: 'a data sheet with both ends',
    text: `Internet Access Details
-----------------------
Circuit ID:            QL-00213-N
Bearer:                1 Gbit/s
Committed rate:        200 Mbit/s symmetric
Handoff:               Cat6 RJ45, untagged
WAN subnet:            198.51.100.72/29
First usable (PE):     198.51.100.73
Your router (CE):      198.51.100.74
LAN block routed:      203.0.113.192/28
Name servers:          192.0.2.53, 192.0.2.153
NOC:                   +44 20 5550 0199 (24/7)`,
    lines: [
      {
        backup: false,
        downMbps: 200,
        upMbps: 200,
        untagged: true,
        prefixLength: 29,
        block: '198.51.100.72/29',
        gateway: '198.51.100.73',
        address: '198.51.100.74',
        routedBlock: '203.0.113.192/28',
        resolvers: ['192.0.2.53', '192.0.2.153'],
        type: 'static',
      },
    ],
    secrets: [],
    devices: [],
  },
  {
    name: 'French, shared IPv4, a Wi-Fi key',
    text: `Votre box est arrivée ! Offre Fibre 2 Gb/s / 800 Mb/s. L'adresse IPv4 est partagée (pas d'IP publique), IPv6 native. Le numéro de contrat est le 88-21312. Le Wi-Fi s'appelle "Boulangerie-Quai", la clé WPA est Quai_8812_Pain. Code PIN de la clé 4G de secours : 0000. APN : secours.nordfibre`,
    lines: [
      { backup: false, medium: 'fibre', downMbps: 2000, upMbps: 800, carrierNat: true },
      { backup: true, medium: 'cellular', apn: 'secours.nordfibre' },
    ],
    secrets: ['Quai_8812_Pain', '0000'],
    devices: [],
  },
  {
    name: 'a status page with counters',
    text: `WAN Status
Connection Type        PPPoE
Username               shop-77@q.example
IP Address             203.0.113.9
Subnet Mask            255.255.255.255
Default Gateway        198.51.100.1
DNS Server             192.0.2.53 192.0.2.54
VLAN                   35
Uptime                 12 days 04:11:02
Received               112 GB
Sent                   14 GB
Firmware Version       3.2.1.9`,
    lines: [
      {
        backup: false,
        type: 'pppoe',
        userName: 'shop-77@q.example',
        address: '203.0.113.9',
        prefixLength: 32,
        gateway: '198.51.100.1',
        resolvers: ['192.0.2.53', '192.0.2.54'],
        vlan: 35,
      },
    ],
    secrets: [],
    devices: [],
  },
  {
    name: 'Dutch, an order that was replaced',
    text: `Geachte mevrouw, uw bestelling 77120 (kabel 100/10) is vervallen en vervangen door glasvezel zakelijk 400 Mbit/s down en 400 Mbit/s up. U krijgt een vast IP-blok 203.0.113.16/29, de router van ons heeft .17, u gebruikt .18. VLAN 34 voor internet, VLAN 4 voor tv. Activatie op 9 december 2026.`,
    lines: [
      {
        backup: false,
        medium: 'fibre',
        downMbps: 400,
        upMbps: 400,
        prefixLength: 29,
        block: '203.0.113.16/29',
        vlan: 34,
        type: 'static',
      },
    ],
    secrets: [],
    devices: [],
  },
  {
    name: 'Spanish, in passing',
    text: `Hola Marta:
te paso lo de la cafetería. Fibra de 600 simétricos con IP fija 198.51.100.61, máscara /30, puerta 198.51.100.62. La 4G es de reserva (tarjeta con 20 gigas, APN datos.ejemplo.example, pin 1188). El wifi de clientes separado, dos datáfonos y una impresora de tickets en 192.168.1.50.`,
    lines: [
      {
        backup: false,
        medium: 'fibre',
        downMbps: 600,
        upMbps: 600,
        type: 'static',
        address: '198.51.100.61',
        prefixLength: 30,
        gateway: '198.51.100.62',
      },
      { backup: true, medium: 'cellular', capGigabytes: 20, apn: 'datos.ejemplo.example' },
    ],
    secrets: ['1188'],
    devices: [
      ['card terminal', 2, ''],
      ['printer', 1, '192.168.1.50'],
    ],
  },
  {
    name: 'the source of a page',
    text: `<table><tr><td>Benutzername</td><td>k-7712@nordlicht.example</td></tr><tr><td>Kennwort</td><td>Qz!7712ab</td></tr><tr><td>VLAN-ID</td><td>132</td></tr></table>`,
    lines: [{ backup: false, userName: 'k-7712@nordlicht.example', vlan: 132, type: 'pppoe' }],
    secrets: ['Qz!7712ab'],
    devices: [],
  },
  {
    name: 'a change of rate, VLAN and nothing else',
    text: `We've switched you from ADSL to VDSL (old rate 16/1, new rate 100/40). Login stays the same: kiosk7@q.example. Please note we no longer use VLAN 7; use 132 from 9 December.`,
    lines: [
      {
        backup: false,
        medium: 'dsl',
        downMbps: 100,
        upMbps: 40,
        userName: 'kiosk7@q.example',
        type: 'pppoe',
      },
    ],
    secrets: [],
    devices: [],
  },
  {
    name: 'German, a telephone account beside the line',
    text: `Zugangsdaten:
  PPPoE-Kennung ..... 001122334455667788990001@t.example
  PPPoE-Passwort .... 88120044
  Tag (intern) ...... 7
Sprachdienste: SIP-Registrar tel.t.example, Rufnr. 0471 5550123, Passwort Sip#2281x`,
    lines: [{ backup: false, userName: '001122334455667788990001@t.example', vlan: 7, type: 'pppoe' }],
    secrets: ['88120044', 'Sip#2281x'],
    devices: [],
  },
  {
    name: 'a block from its first to its last address',
    text: `Subject: Your new business line is live

Dear Mr Oduya

Good news - your line was activated this morning.

Product            Business Fibre 300
Downstream         330 Mbps
Upstream           50 Mbps
Guaranteed         150/25 Mbps
Router             included, ships separately
Your static IPs    203.0.113.8 - 203.0.113.15 (/29)
Network            203.0.113.8
Gateway            203.0.113.9
Usable             203.0.113.10 to 203.0.113.14
Broadcast          203.0.113.15
Resolver           192.0.2.53 / 192.0.2.54
Tagging            none`,
    lines: [
      {
        backup: false,
        activation: 'active',
        medium: 'fibre',
        downMbps: 330,
        upMbps: 50,
        block: '203.0.113.8/29',
        prefixLength: 29,
        network: '203.0.113.8',
        gateway: '203.0.113.9',
        usable: '203.0.113.10',
        resolvers: ['192.0.2.53', '192.0.2.54'],
        type: 'static',
      },
    ],
    secrets: [],
    devices: [],
  },
  {
    name: 'German notes of a colleague',
    text: `Handzettel Technik: Anschluss Praxis Dr. Lind, 2. OG. Kabel 250/50, Bridge-Modus aktiv, Adresse per DHCP, MAC wird gelernt (Modem neu starten nach Routertausch). Keine feste IP. Telefon läuft über den Provider-Router, nicht unser Thema. Fallback: 5G-Stick, APN web.t.example, kein PIN.`,
    lines: [
      { backup: false, medium: 'cable', downMbps: 250, upMbps: 50, box: 'bridged', type: 'dhcp' },
      { backup: true, medium: 'cellular', apn: 'web.t.example' },
    ],
    secrets: [],
    devices: [['telephone', 1, '']],
  },
  {
    name: 'French, an old line that is not to be used',
    text: `Bonjour Julie,
suite à notre appel : l'accès FTTO 100 Mb/s symétrique est livré en Ethernet, sans VLAN. Réseau d'interconnexion 198.51.100.16/30 (nous .17, vous .18), bloc public routé 203.0.113.64/28. DNS : 192.0.2.53 et 192.0.2.54. GTR 4 h, support 09 70 55 50 19.
Merci de ne plus utiliser l'ancien lien SDSL (4 Mb/s).`,
    lines: [
      {
        backup: false,
        medium: 'fibre',
        downMbps: 100,
        upMbps: 100,
        untagged: true,
        prefixLength: 30,
        block: '198.51.100.16/30',
        routedBlock: '203.0.113.64/28',
        resolvers: ['192.0.2.53', '192.0.2.54'],
        type: 'static',
      },
    ],
    secrets: [],
    devices: [],
  },
  {
    name: 'shorthand for two lines and two networks',
    text: `WAN1: FTTP 900/115, PPPoE, bb-user 7781@q.example / pw tide#2291Kx, no vlan
WAN2: 4G SIM in the router, APN data.q.example, cap 30GB, cgnat
LAN 192.168.10.0/24 gw .1, pool .100-.200, guests on VLAN 20 192.168.20.0/24
3 tills, 1 printer 192.168.10.20, NVR 192.168.10.30 + 6 cams`,
    lines: [
      {
        backup: false,
        medium: 'fibre',
        downMbps: 900,
        upMbps: 115,
        type: 'pppoe',
        userName: '7781@q.example',
        untagged: true,
      },
      { backup: true, medium: 'cellular', apn: 'data.q.example', capGigabytes: 30, carrierNat: true },
    ],
    secrets: ['tide#2291Kx'],
    devices: [
      ['till', 3, ''],
      ['printer', 1, '192.168.10.20'],
      ['recorder', 1, '192.168.10.30'],
      ['camera', 6, ''],
    ],
  },
  {
    name: 'Spanish, two values behind one label',
    text: `Estimado Sr. Vidal, le confirmamos el alta de su línea:
 * Modalidad ........ Fibra 1 Gbps simétrica
 * Usuario/clave .... vidal88@sur.example / Rio-7781x
 * VLAN datos/voz/TV: 20/22/24
 * IP: dinámica (CGNAT)
La tarifa incluye 2 líneas móviles de 50 GB.`,
    lines: [
      {
        backup: false,
        medium: 'fibre',
        downMbps: 1000,
        upMbps: 1000,
        userName: 'vidal88@sur.example',
        type: 'dhcp',
        carrierNat: true,
      },
    ],
    secrets: ['Rio-7781x'],
    devices: [],
  },
  {
    name: 'Italian, several labels in one row',
    text: `Oggetto: attivazione linea n. 0471/5520199
Profilo: FTTC 200/20
Autenticazione: PPPoE - utente: rossi.ferramenta@sud.example - pwd: Fer_7712!a
IP pubblico statico: 203.0.113.201 (punto-punto, /32)
VLAN dati 835, VLAN fonia 836
MTU/MRU: 1492
Data di attivazione: 14/12/2026`,
    lines: [
      {
        backup: false,
        activation: 'not-yet',
        downMbps: 200,
        upMbps: 20,
        type: 'pppoe',
        userName: 'rossi.ferramenta@sud.example',
        address: '203.0.113.201',
        prefixLength: 32,
        vlan: 835,
        mtuBytes: 1492,
      },
    ],
    secrets: ['Fer_7712!a'],
    devices: [],
  },
  {
    name: 'old and new beside each other',
    text: `| Parameter        | Old              | New               |
|------------------|------------------|-------------------|
| Access           | ADSL             | FTTP              |
| Speed            | 16/1             | 500/75 Mbit/s     |
| VLAN             | -                | 11                |
| Public IP        | 198.51.100.20    | 203.0.113.20      |
| Login            | old11@q.example  | new22@q.example   |`,
    lines: [
      {
        backup: false,
        medium: 'fibre',
        downMbps: 500,
        upMbps: 75,
        vlan: 11,
        address: '203.0.113.20',
        userName: 'new22@q.example',
        type: 'pppoe',
      },
    ],
    secrets: [],
    devices: [],
  },
  {
    name: 'German, a VLAN put right in a sentence',
    text: `Sehr geehrter Herr Brandt,

die Schaltung Ihres Anschlusses verschiebt sich vom 1.12. auf den 8.12.2026.
Die Leitung: VDSL 175 (Download 175.000 kbit/s, Upload 40.000 kbit/s).
Anders als im letzten Schreiben angegeben lautet die VLAN-ID nicht 7, sondern 132.
Zugang: brandt-werft (Kennwort: siehe Brief vom 12.11.)
Ihre feste IP: 203.0.113.131, bisher 198.51.100.99.`,
    lines: [
      {
        backup: false,
        medium: 'dsl',
        downMbps: 175,
        upMbps: 40,
        vlan: 132,
        type: 'static',
        address: '203.0.113.131',
      },
    ],
    secrets: [],
    devices: [],
  },
  {
    name: 'a message from site with a speed test',
    text: `hey, quick one from site: the isp box is in bridge now. wan should pick up dhcp. speedtest on the laptop shows 212 down 31 up but they pay for 250/40. cable. mac of the old router is 00:00:5e:00:53:2a, they say the modem remembers it for an hour. also the sim for backup came: data.q.example, pin 2281, 10 gig.`,
    lines: [
      { backup: false, box: 'bridged', type: 'dhcp', downMbps: 250, upMbps: 40, medium: 'cable' },
      { backup: true, medium: 'cellular', capGigabytes: 10 },
    ],
    secrets: ['2281'],
    devices: [],
  },
  {
    name: 'Dutch, both directions at once',
    text: `Aansluiting: glasvezel 1 Gbit/s up en down, DHCP op VLAN 300. Geen inloggegevens nodig. Vast adres: nee. IPv6: /48 via DHCPv6-PD. De tv-kastjes zitten op VLAN 101. Let op: max. 2 MAC-adressen. Back-up: 5G, simkaart van de klant, APN internet.west.example, pincode 0000, 100 GB per maand.`,
    lines: [
      { backup: false, medium: 'fibre', downMbps: 1000, upMbps: 1000, type: 'dhcp', vlan: 300 },
      { backup: true, medium: 'cellular', apn: 'internet.west.example', capGigabytes: 100 },
    ],
    secrets: ['0000'],
    devices: [['display', 1, '']],
  },
];
