import { mdiWeatherNight, mdiWhiteBalanceSunny } from '@mdi/js';
import IconButton from '@mui/material/IconButton';
import { useContext } from 'react';
import { Icon } from '../parts/severity.tsx';
import { LookContext } from './look.ts';

/** Light paper or dark paper. */
export function LookButton() {
  const { look, toggle } = useContext(LookContext);
  const label = look === 'dark' ? 'Light paper' : 'Dark paper';
  return (
    <IconButton size="small" aria-label={label} title={label} onClick={toggle} className="row-button">
      <Icon path={look === 'dark' ? mdiWhiteBalanceSunny : mdiWeatherNight} />
    </IconButton>
  );
}
