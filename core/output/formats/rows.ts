import Papa from 'papaparse';
import { parseAddress } from '../../base/net/address.ts';
import { parseMac } from '../../base/net/mac.ts';
import { parsePorts } from '../../base/net/ports.ts';
import { slug } from '../../base/text.ts';
import {
  categoryTitles,
  deviceSchema,
  forwardSchema,
  runSchema,
  type DevicePlan,
  type ForwardPlan,
  type Plan,
  type RunPlan,
} from '../../plan/schema.ts';

/** Cells of pasted or dropped rows: tabs from a spreadsheet, else semicolon- or comma-separated text (RFC 4180). */
export function parseRows(text: string): string[][] {
  const delimiter = text.includes('\t') ? '\t' : text.includes(';') ? ';' : ',';
  const parsed = Papa.parse<string[]>(text.trim(), { skipEmptyLines: 'greedy', delimiter });
  return parsed.data.map((row) => row.map((cell) => cell.trim()));
}

export interface Pasted<T> {
  readonly rows: T[];
  /** What could not be placed, with the row it was in: shown, so that nothing vanishes silently. */
  readonly notes: string[];
}

const isHeading = (row: readonly string[]): boolean =>
  row.some((cell) => /^(name|mac|address|network|port|device)$/i.test(cell));

/** Devices from rows of name, MAC, network and address in any order: each cell is told by its form. */
export function devicesFromRows(text: string, plan: Plan, identifier: () => string): Pasted<DevicePlan> {
  const notes: string[] = [];
  const rows = parseRows(text)
    .filter((row) => !isHeading(row))
    .map((row, index) => {
      const device = deviceSchema.parse({ id: identifier() });
      for (const cell of row.filter((each) => each !== '')) {
        const network = plan.networks.find((each) => slug(each.name) === slug(cell));
        if (parseMac(cell).ok) device.mac = cell;
        else if (parseAddress(cell).ok) Object.assign(device, { address: cell, addressing: 'reserved' });
        else if (network) device.network = network.id;
        else if (device.name === '') device.name = cell.slice(0, 200);
        else {
          device.notes = `${device.notes} ${cell}`.trim().slice(0, 200);
          notes.push(
            `Row ${index + 1}: "${cell}" is neither a MAC address, an address nor a network; it is kept in the notes.`,
          );
        }
      }
      return device;
    });
  return { rows, notes };
}

/** Forwards from rows of outside port, protocol, device, inside port and purpose. Ports come in that order. */
export function forwardsFromRows(text: string, plan: Plan, identifier: () => string): Pasted<ForwardPlan> {
  const notes: string[] = [];
  const rows = parseRows(text)
    .filter((row) => !isHeading(row))
    .map((row, index) => {
      const forward = forwardSchema.parse({ id: identifier(), uplink: plan.uplinks[0]?.id ?? '' });
      const ports: string[] = [];
      for (const cell of row.filter((each) => each !== '')) {
        const host = parseAddress(cell);
        const device = plan.devices.find(
          (each) => slug(each.name) === slug(cell) || (host.ok && each.address === cell),
        );
        const uplink = plan.uplinks.find((each) => slug(each.name) === slug(cell));
        if (/^(tcp|udp|both)$/i.test(cell)) forward.protocol = cell.toLowerCase() as ForwardPlan['protocol'];
        else if (parsePorts(cell).ok) ports.push(cell);
        else if (device) forward.device = device.id;
        else if (uplink) forward.uplink = uplink.id;
        else if (forward.purpose === '') forward.purpose = cell.slice(0, 200);
        else
          notes.push(
            `Row ${index + 1}: nothing on this site is called "${cell}"; add the device first, or choose it in the row.`,
          );
      }
      forward.outsidePorts = ports[0] ?? '';
      forward.insidePorts = ports[1] ?? ports[0] ?? '';
      return forward;
    });
  return { rows, notes };
}

const plain = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]/g, '');

/**
 * Runs from rows of label, box, socket, box or device, socket, category and length. Boxes and devices are told by their
 * names; what follows one is its socket; a first cell that names neither is the label.
 */
export function runsFromRows(text: string, plan: Plan, identifier: () => string): Pasted<RunPlan> {
  const notes: string[] = [];
  const rows = parseRows(text)
    .filter((row) => !row.some((cell) => /^(label|from|to|category|length|cable)$/i.test(cell)))
    .map((row, index) => {
      const run = runSchema.parse({ id: identifier() });
      let end: 'label' | 'from' | 'to' = 'label';
      for (const cell of row.filter((each) => each !== '')) {
        const named = (name: string): boolean => name !== '' && slug(name) === slug(cell);
        const box = plan.kit.find(({ model, role }) => named(model) || named(role));
        const device = plan.devices.find(({ name }) => named(name));
        const category = Object.keys(categoryTitles).find((each) => plain(each) === plain(cell)) as
          RunPlan['category'] | undefined;
        const length = /^(\d{1,5}(?:[.,]\d{1,2})?) ?m(?:etres)?$/i.exec(cell);
        if (category) run.category = category;
        else if (length) run.metres = Number(length[1]!.replace(',', '.'));
        else if (box && end === 'label') [run.fromBox, end] = [box.id, 'from'];
        else if (box) [run.toBox, end] = [box.id, 'to'];
        else if (device) [run.toDevice, end] = [device.id, 'to'];
        else if (end === 'label' && run.label === '') run.label = cell.slice(0, 64);
        else if (end === 'from' && run.fromPort === '') run.fromPort = cell.slice(0, 64);
        else if (end === 'to' && run.toPort === '') run.toPort = cell.slice(0, 64);
        else
          notes.push(
            `Row ${index + 1}: nothing on this site is called "${cell}"; add the box or the device first, or choose it in the row.`,
          );
      }
      return run;
    });
  return { rows, notes };
}
