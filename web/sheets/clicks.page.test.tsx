import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { screen, within } from '@testing-library/react';
import type { Plan } from '../../core/index.ts';
import { demoPlan } from '../../core/testing/plans.ts';
import { ConflictDialog } from '../app/conflict.tsx';
import { meanwhile, openPage } from '../testing/page.tsx';
import { Workings } from '../workings/workings.tsx';
import { Component as Addresses } from './addresses/addresses.tsx';
import { Component as Failover } from './failover/failover.tsx';
import { Component as RemoteAccess } from './remote-access/remote-access.tsx';
import { Component as Rules } from './rules/rules.tsx';
import { Component as RunSheet } from './run-sheet/run-sheet.tsx';
import { Component as Uplinks } from './uplinks/uplinks.tsx';
// Parts that a sheet asks for when they are wanted: here they are at hand.
import './remote-access/access.tsx';
import './remote-access/certificates.tsx';
import './remote-access/join-panel.tsx';
import './remote-access/person-panel.tsx';
import './run-sheet/print-visit.tsx';
import './remote-access/profile-check.tsx';
import './remote-access/site-to-site.tsx';
import './uplinks/survey.tsx';

// What React has to say about a page, such as two rows under one key, is a fault of the page.
beforeEach(() => void jest.spyOn(console, 'error'));
afterEach(() => expect(console.error).not.toHaveBeenCalled());

describe('fields', () => {
  test('a figure out of its bounds is kept as typed, marked, and one step of undo', async () => {
    const { user, plan, session } = openPage(demoPlan('farrow-sound'), <Addresses />);
    const [vlan] = screen.getAllByRole('textbox', { name: /^VLAN ID/ });
    await user.clear(vlan!);
    await user.type(vlan!, '4095');
    expect(plan().networks[0]!.vlan).toBe(4095);
    expect(vlan!.getAttribute('aria-invalid')).toBe('true');
    expect(vlan!.closest('.field')!.textContent).toContain('Blocker');
    meanwhile(() => session.undo());
    expect(plan()).toEqual(demoPlan('farrow-sound'));
  });

  test('a comma is a decimal point, and a letter is no figure', async () => {
    const { user, plan } = openPage(demoPlan('farrow-sound'), <Uplinks />);
    const [rate] = screen.getAllByRole('textbox', { name: /Contract rate, download/ });
    await user.clear(rate!);
    await user.type(rate!, '12,5x');
    expect(plan().uplinks[0]!.rateDownMbps).toBe(12.5);
    expect((rate as HTMLInputElement).value).toBe('12.5');
    await user.clear(rate!);
    expect(plan().uplinks[0]!.rateDownMbps).toBeNull();
  });

  test('a rate in another unit becomes Mb/s: MB/s are eight times as many', async () => {
    const { user, plan } = openPage(demoPlan('farrow-sound'), <Uplinks />);
    const [rate] = screen.getAllByRole('textbox', { name: /Contract rate, download/ });
    await user.clear(rate!);
    await user.type(rate!, '2,5 MB/s');
    expect(plan().uplinks[0]!.rateDownMbps).toBe(20);
    await user.tab();
    expect((rate as HTMLInputElement).value).toBe('20');
  });

  test('another WAN type shows its fields; back again nothing is lost', async () => {
    const { user, plan } = openPage(demoPlan('farrow-sound'), <Uplinks />);
    const [type] = screen.getAllByRole('combobox', { name: /WAN type/ });
    const before = plan().uplinks[0]!;
    await user.selectOptions(type!, 'pppoe');
    expect(screen.getAllByRole('textbox', { name: /User name/ }).length).toBeGreaterThan(0);
    await user.selectOptions(type!, before.type);
    expect(plan().uplinks[0]).toEqual(before);
  });
});

describe('rows', () => {
  test('what few forwards have comes with a button, and stays where something is entered', async () => {
    const { user, plan } = openPage(demoPlan('farrow-sound'), <Rules />);
    expect(screen.queryByRole('textbox', { name: /Open until/ })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'More of Tide readings for the harbour office' }));
    await user.type(screen.getByRole('textbox', { name: /Open until/ }), '2027-03-01');
    expect(plan().forwards[0]!.until).toBe('2027-03-01');
    expect(screen.queryByRole('button', { name: /^(?:More|Less) of Tide/ })).toBeNull();
  });

  test('an uplink moved up is used first; one undo brings the order back', async () => {
    const { user, plan, session } = openPage(demoPlan('farrow-sound'), <Uplinks />);
    const names = (): string[] => plan().uplinks.map(({ name }) => name);
    expect(names()).toEqual(['Fibre', 'Cellular']);
    await user.click(screen.getByRole('button', { name: 'Move Cellular up' }));
    expect(names()).toEqual(['Cellular', 'Fibre']);
    const up = screen.getByRole('button', { name: 'Move Cellular up' });
    expect((up as HTMLButtonElement).disabled).toBe(true);
    meanwhile(() => session.undo());
    expect(names()).toEqual(['Fibre', 'Cellular']);
  });

  test('rows pasted from a spreadsheet become devices; what was not understood is said and kept', async () => {
    const { user, plan } = openPage(demoPlan('mill-lane'), <Addresses />);
    const count = plan().devices.length;
    const register = screen.getByRole('table', { name: 'Devices' }).closest('.rows') as HTMLElement;
    await user.click(within(register).getByRole('button', { name: 'Paste rows …' }));
    await user.click(within(register).getByRole('textbox', { name: 'Rows for Devices' }));
    await user.paste('Till 4\t02:00:5e:00:53:31\tStaff\tby the door');
    await user.click(within(register).getByRole('button', { name: 'Add these rows' }));
    expect(plan().devices).toHaveLength(count + 1);
    expect(plan().devices.at(-1)).toMatchObject({
      name: 'Till 4',
      mac: '02:00:5e:00:53:31',
      network: plan().networks.find(({ name }) => name === 'Staff')!.id,
      notes: 'by the door',
    });
    expect(within(register).getByRole('status').textContent).toContain('"by the door" is neither');
    await user.click(within(register).getByRole('button', { name: 'Dismiss' }));
    expect(within(register).queryByRole('status')).toBeNull();
  });

  test('a promise is added with one click, and typing goes on in it', async () => {
    const { user, plan } = openPage(demoPlan('mill-lane'), <Failover />);
    const count = plan().failover.promises.length;
    await user.click(screen.getByRole('button', { name: /^Add a promise/ }));
    expect(plan().failover.promises).toHaveLength(count + 1);
    expect(plan().failover.promises.at(-1)!.withinSeconds).toEqual(expect.any(Number));
  });
});

describe('findings', () => {
  test('a fix is shown value by value, then applied, and the finding is gone', async () => {
    const { user, plan, session } = openPage(
      demoPlan('hollin-edge'),
      <Workings sheet="addresses" />,
      '/networks/0',
    );
    const article = screen.getAllByRole('article').find((each) => within(each).queryByText('Show changes'))!;
    const says = article.querySelector('p')!.textContent;
    await user.click(within(article).getByText('Show changes'));
    const changes = within(article)
      .getAllByRole('row')
      .map((row) => [row.querySelector('del')?.textContent, row.querySelector('ins')?.textContent]);
    expect(changes.length).toBeGreaterThan(0);
    for (const [before, after] of changes) if (after) expect(after).not.toBe(before);
    await user.click(within(article).getAllByRole('button')[0]!);
    expect(plan()).not.toEqual(demoPlan('hollin-edge'));
    for (const [, after] of changes) if (after) expect(JSON.stringify(plan())).toContain(after);
    expect(
      screen.queryAllByRole('article').map((each) => each.querySelector('p')!.textContent),
    ).not.toContain(says);
    meanwhile(() => session.undo());
    expect(plan()).toEqual(demoPlan('hollin-edge'));
  });
});

describe('what two windows changed', () => {
  test('nothing is overwritten before somebody chose, value by value', async () => {
    const changed = (change: (plan: Plan) => void): Plan => {
      const plan = demoPlan('farrow-sound');
      change(plan);
      return plan;
    };
    const theirs = changed((each) => {
      each.site.town = 'Theirs';
      each.uplinks.reverse();
    });
    const mine = changed((each) => {
      each.site.town = 'Mine';
      each.site.notes = 'Key at the harbour office';
    });
    // A draft of this window, typed on the revision before that of the server.
    const { user, plan, session } = openPage(theirs, <ConflictDialog />);
    meanwhile(() => session.takeUp({ revision: 0, plan: mine }, demoPlan('farrow-sound')));
    expect(screen.getByRole('dialog').textContent).toContain('This site was changed elsewhere');
    const row = screen.getByRole('row', { name: /Town/ });
    expect(row.textContent).toMatch(/Mine.*Theirs/);
    await user.click(within(row).getAllByRole('radio')[1]!);
    await user.click(screen.getByRole('button', { name: 'Keep both, as chosen' }));
    expect(plan().site).toMatchObject({ town: 'Theirs', notes: 'Key at the harbour office' });
    expect(plan().uplinks.map(({ name }) => name)).toEqual(['Cellular', 'Fibre']);
    expect(screen.queryByRole('dialog')).toBeNull();
  });
});

describe('on site', () => {
  test('no record without initials; then the step and what was read are sent', async () => {
    const { user, sent } = openPage(demoPlan('farrow-sound'), <RunSheet />);
    const records = (): unknown[] =>
      sent.filter(({ path }) => path.endsWith('/records')).map(({ body }) => body);
    await user.click(screen.getByRole('button', { name: /^Done/ }));
    expect(screen.getByRole('alert').textContent).toMatch(/initials first/);
    expect(document.activeElement).toBe(screen.getByRole('textbox', { name: 'Initials' }));
    expect(records()).toEqual([]);
    await user.type(screen.getByRole('textbox', { name: 'Initials' }), 'mh');
    await user.click(screen.getByRole('button', { name: /^Done/ }));
    expect(records()).toMatchObject([{ kind: 'tick', initials: 'mh', revision: 1 }]);
  });

  test('a reading is judged as it is typed, and survives that the step is closed', async () => {
    const { user } = openPage(demoPlan('farrow-sound'), <RunSheet />);
    const head = screen.getByRole('button', { name: /Compare the two addresses of Fibre/ });
    await user.click(head);
    const field = (label: RegExp): HTMLElement => within(head.closest('li')!).getByLabelText(label);
    await user.type(field(/Address of the WAN port/), '100.64.1.9');
    await user.type(field(/Address that the outside sees/), '203.0.113.80');
    expect(within(head.closest('li')!).getByRole('status').textContent).toMatch(/^Check again\./);
    await user.click(head);
    await user.click(head);
    expect((field(/Address of the WAN port/) as HTMLInputElement).value).toBe('100.64.1.9');
  });
});

describe('remote access', () => {
  test('who leaves loses all devices with one click, and one undo brings them back', async () => {
    const { user, plan, session } = openPage(demoPlan('farrow-sound'), <RemoteAccess />);
    const open = (): number => plan().vpn.peers.filter(({ revoked }) => revoked === '').length;
    const before = open();
    await user.click(screen.getAllByRole('button', { name: /Maren Holt, telephone/ })[0]!);
    await user.click(screen.getByRole('button', { name: 'Revoke all access of Maren Holt (2)' }));
    expect(open()).toBe(before - 2);
    meanwhile(() => session.undo());
    expect(plan()).toEqual(demoPlan('farrow-sound'));
  });
});
