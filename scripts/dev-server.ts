import { fileURLToPath } from 'node:url';
import { serve } from '../server/main.ts';

await serve(fileURLToPath(new URL('..', import.meta.url)));
