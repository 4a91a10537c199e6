/** The sheets in working order, and which part of the plan each one holds. */
export const sheets = [
  { key: 'picture', title: 'Picture', holds: undefined },
  {
    key: 'site',
    title: 'Site',
    holds:
      /^\/(site|contacts|visit|kit(?!\/\d+\/(?:ports|vlanSupport|spanningTree|poeWatts))|router(?!\/ports))(\/|$)/,
  },
  {
    key: 'uplinks',
    title: 'Uplinks',
    holds: /^\/(uplinks(?!\/\d+\/(watch|failures|label|standby|weight))|router\/ports)(\/|$)/,
  },
  { key: 'addresses', title: 'Addresses', holds: /^\/(networks(?!\/\d+\/expects)|devices)(\/|$)/ },
  {
    key: 'wiring',
    title: 'Wiring',
    holds: /^\/(wiring|kit\/\d+\/(?:ports|vlanSupport|spanningTree|poeWatts))(\/|$)/,
  },
  { key: 'wifi', title: 'Wi-Fi', holds: /^\/wifi(\/|$)/ },
  { key: 'second', title: 'Second router', holds: /^\/second(\/|$)/ },
  { key: 'failover', title: 'Failover', holds: /^\/(failover|uplinks\/\d+\/[a-z]+)(\/|$)/ },
  {
    key: 'rules',
    title: 'Rules',
    holds: /^\/(forwards|reach|exceptions|routes|networks\/\d+\/expects)(\/|$)/,
  },
  { key: 'remote-access', title: 'Remote access', holds: /^\/vpn(\/|$)/ },
  { key: 'bench', title: 'Bench', holds: undefined },
  { key: 'run-sheet', title: 'Run sheet', holds: undefined },
  { key: 'acceptance', title: 'Acceptance', holds: undefined },
  { key: 'handover', title: 'Handover', holds: undefined },
] as const;

export type SheetKey = (typeof sheets)[number]['key'];

/** The sheet on which a place of the plan is. */
export const sheetOf = (at: string): SheetKey => sheets.find((sheet) => sheet.holds?.test(at))?.key ?? 'site';
