import { useEffect } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import { beginToFollowVault } from '../state/vault.ts';

const lookMs = 60_000;

/** What every page says until it is mended: that no backup is made any more, and why. */
export function UpkeepNote() {
  const { data } = useSWR<{ problem: string }>('/api/upkeep', { refreshInterval: lookMs });
  // Whoever is answered is signed in, and hears at once when that ends, or when the vault is locked.
  useEffect(() => {
    if (data) beginToFollowVault();
  }, [data]);
  if (!data?.problem) return null;
  return (
    <div role="alert" className="note save-note">
      <p>
        {data.problem} <Link to="/data">Data</Link>
      </p>
    </div>
  );
}
