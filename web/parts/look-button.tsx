import { mdiCircleHalfFull, mdiWeatherNight, mdiWhiteBalanceSunny } from '@mdi/js';
import IconButton from '@mui/material/IconButton';
import { useContext } from 'react';
import { Icon } from './severity.tsx';
import { LookContext } from '../state/look.ts';

/** What the next press gives. */
const next = {
  light: ['Dark paper', mdiWeatherNight],
  dark: ['High contrast', mdiCircleHalfFull],
  contrast: ['Light paper', mdiWhiteBalanceSunny],
} as const;

/** Light paper, dark paper, or high contrast for glare. */
export function LookButton() {
  const { look, toggle } = useContext(LookContext);
  const [label, icon] = next[look];
  return (
    <IconButton size="small" aria-label={label} title={label} onClick={toggle} className="row-button">
      <Icon path={icon} />
    </IconButton>
  );
}
