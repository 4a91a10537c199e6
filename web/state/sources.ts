import { siteRecord, type Site, type SiteRecordDocument, type Sources } from '../../core/index.ts';
import { dayText, today } from './time.ts';
import { useAnalysis, useSite, useStanding } from './analysis.ts';
import { useRecords } from './records.ts';
import { usePlan, useSession, useSnapshot } from './session.ts';

/** The as-built record of the site that is open, as far as it is known. */
export function useSiteRecord(site: Site): () => SiteRecordDocument {
  const analysis = useAnalysis();
  const standing = useStanding();
  const records = useRecords();
  const plan = usePlan();
  return () =>
    siteRecord(site, {
      plan,
      accepted: analysis?.accepted ?? [],
      steps: analysis?.steps ?? [],
      records,
      findings: standing === 'done' ? analysis?.findings : undefined,
      today: today(),
      momentText: dayText,
    });
}

/** What files of the site that is open are made from. */
export function useSources(): () => Sources {
  const session = useSession();
  const { plan, revision } = useSnapshot();
  const site = useSite();
  const record = useSiteRecord(site);
  return () => ({
    plan,
    site,
    siteId: session.id,
    revision,
    day: today(),
    stampedAt: new Date().toISOString(),
    record,
  });
}
