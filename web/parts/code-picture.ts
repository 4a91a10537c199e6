import { useEffect, useState } from 'react';

/** A text as a code to be scanned (ISO/IEC 18004), as SVG; empty until it is drawn. */
export function useCodePicture(text: string | undefined): string {
  const [picture, setPicture] = useState('');
  useEffect(() => {
    let current = true;
    if (text)
      void import('qrcode').then(async ({ toString }) => {
        const drawn = await toString(text, { type: 'svg', margin: 2, errorCorrectionLevel: 'L' });
        if (current) setPicture(drawn);
      });
    else setPicture('');
    return () => {
      current = false;
    };
  }, [text]);
  return picture;
}
