/** A site to start from: a text like any other, read and asked about like any other. */
interface Pattern {
  readonly title: string;
  readonly text: string;
}

/** Kinds of site that come again and again. */
export const patterns: readonly Pattern[] = [
  {
    title: 'One line and a home office',
    text: 'Home office, fibre with DHCP. Two computers, a printer, a telephone.\nNo remote access.',
  },
  {
    title: 'Shop with tills',
    text: 'Shop, fibre with user name, cellular backup.\nTwo tills, a card terminal, two cameras, an office printer, guest Wi-Fi.\nCard payments must be back within 60 s.\nOwner wants in from home.',
  },
  {
    title: 'Holiday place',
    text: "Campsite, fixed wireless where the provider's box routes, satellite as backup.\nOffice, a weather station, a gate controller, 150 guests on the Wi-Fi.\nThe gate contractor comes in from outside.",
  },
  {
    title: "Workshop behind the landlord's router",
    text: "Workshop behind the landlord's router.\nThree machines, two computers, a label printer.\nThe machine service company must reach the machines: the supplier comes in remotely.",
  },
  {
    title: 'One of two branches',
    text: 'Two branches. This branch: shop, fibre with a static address, cellular backup.\nA till, a file server in the office, two telephones.\nStaff come in from outside.',
  },
];
