import { and, eq, like, ne } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import type { KitItem } from '../../core/index.ts';
import { cardName, cardOf, cardPattern, modelOf } from './facts.ts';
import { mostCards } from './limits.ts';
import { facts } from './schema.ts';

/** Single values by name, and what is known of models of boxes among them. */
export function factRows(db: PgliteDatabase) {
  const setFact = async (name: string, value: string): Promise<void> => {
    await db.insert(facts).values({ name, value }).onConflictDoUpdate({ target: facts.name, set: { value } });
  };

  return {
    setFact,

    /** What is known of models of boxes, from earlier jobs. */
    async cards(): Promise<{ model: string; card: KitItem['card'] }[]> {
      const rows = await db.select().from(facts).where(like(facts.name, cardPattern)).limit(mostCards);
      return rows.flatMap(({ name, value }) => {
        const card = cardOf(value);
        return card === undefined ? [] : [{ model: modelOf(name), card }];
      });
    },

    /** Keeps the card of a model; one of the same model is replaced. False where there are as many as can be. */
    async keepCard(model: string, card: KitItem['card']): Promise<boolean> {
      const name = cardName(model);
      const others = await db.$count(facts, and(like(facts.name, cardPattern), ne(facts.name, name)));
      if (others >= mostCards) return false;
      await setFact(name, JSON.stringify(card));
      return true;
    },

    async fact(name: string): Promise<string | undefined> {
      return (await db.select().from(facts).where(eq(facts.name, name)))[0]?.value;
    },
  };
}
