import { kitSchema, secondSchema, type KitItem, type SecondPlan } from '../plan/schema.ts';
import { boxName } from './boxes.ts';
import type { Facts } from './facts.ts';
import type { Told } from './plan.ts';

/** Boxes behind the router: what each is, and how it is connected, as far as the text says. */
export function boxesOf(
  { boxes }: Facts,
  { network, newId, tell }: { network: string; newId: () => string; tell: Told },
): { readonly kit: KitItem[]; readonly second: SecondPlan[] } {
  const kit: KitItem[] = [];
  const second: SecondPlan[] = [];
  for (const [index, box] of boxes.entries()) {
    const [id, row] = [newId(), newId()];
    kit.push(
      kitSchema.parse({
        id,
        role: box.kind === 'router' ? 'other' : 'access-point',
        model: boxName(
          box,
          boxes.slice(0, index).filter((each) => each.kind === box.kind && each.place === '').length,
        ),
      }),
    );
    tell(`/kit/${id}/model`, box.from);
    const way = box.kind === 'router' ? 'undecided' : box.kind;
    second.push(
      secondSchema.parse({
        id: row,
        box: id,
        network,
        way,
        dhcp: way === 'undecided',
        place: box.place,
        cable: box.cable === undefined ? (way === 'bridge' ? 'no' : 'unknown') : box.cable ? 'yes' : 'no',
        port: way === 'access-point' ? 'lan' : 'unknown',
      }),
    );
    tell(`/second/${row}/way`, box.from);
    if (box.cable !== undefined) tell(`/second/${row}/cable`, box.from);
  }
  return { kit, second };
}
