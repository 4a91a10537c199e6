import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import useSWR from 'swr';
import { forAnotherCustomer } from '../../core/index.ts';
import { createSite, getJson, newId, sentence, type SiteDocument, type SiteRow } from '../state/api.ts';

/** As a site that is kept here, for another customer. */
export function FromSite({ fail }: { fail: (says: string) => void }) {
  const navigate = useNavigate();
  const [typed, setTyped] = useState('');
  const { data } = useSWR<{ rows: SiteRow[] }>(`/api/sites?limit=20&search=${encodeURIComponent(typed)}`, {
    keepPreviousData: true,
  });
  const begin = async (row: SiteRow): Promise<void> => {
    try {
      const { plan } = await getJson<SiteDocument>(`/api/sites/${row.id}`);
      const { id } = await createSite(forAnotherCustomer(plan, `As ${row.name}`.slice(0, 200), newId));
      await navigate(`/sites/${id}/site`);
    } catch (error) {
      fail(sentence(error));
    }
  };
  return (
    <Autocomplete
      className="from-site"
      size="small"
      options={data?.rows ?? []}
      filterOptions={(rows) => rows}
      getOptionLabel={({ name, customer }) => (customer === '' ? name : `${name}, ${customer}`)}
      getOptionKey={({ id }) => id}
      noOptionsText="No site matches."
      onInputChange={(_, value) => setTyped(value)}
      onChange={(_, row) => row && void begin(row)}
      renderInput={(props) => (
        <TextField {...props} label="Copy an existing site" placeholder="Find by any word" />
      )}
    />
  );
}
