import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useState, type FormEvent } from 'react';
import { useNavigate } from 'react-router';
import { mutate } from 'swr';
import { ApiError, getJson, postJson, sentence } from '../state/api.ts';
import { Input } from './inputs.tsx';

/** The code in a one-time address, or the code itself. */
const codeOf = (typed: string): string => typed.trim().split('#').at(-1) ?? '';

export const isSignedOut = (error: unknown): boolean => error instanceof ApiError && error.status === 401;

/** Signs in, and has asked anew whatever was refused before. */
async function enter(code: string): Promise<void> {
  await postJson('/api/sign-in', { code });
  await mutate(() => true);
}

/** Lets this browser in with a one-time address; it stands behind the # of the address, which no server sees. */
export function SignInPage() {
  const navigate = useNavigate();
  const [problem, setProblem] = useState('');
  useEffect(() => {
    document.title = 'Sign in · Netter';
    let current = true;
    const begin = async (): Promise<void> => {
      const code = codeOf(location.hash);
      // Whoever is in already uses up no code.
      const inside = await getJson('/api/session').then(
        () => true,
        () => false,
      );
      if (!current) return;
      if (!inside && code !== '') await enter(code);
      if (current && (inside || code !== '')) await navigate('/', { replace: true });
    };
    begin().catch((error: unknown) => current && setProblem(sentence(error)));
    return () => {
      current = false;
    };
  }, [navigate]);
  return <SignIn problem={problem} done={() => void navigate('/', { replace: true })} />;
}

/** What a browser that is not signed in sees, and the way in. */
export function SignIn({ problem = '', done }: { problem?: string; done: () => void }) {
  const [typed, setTyped] = useState('');
  const [refused, setRefused] = useState('');
  const send = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    try {
      await enter(codeOf(typed));
      done();
    } catch (error) {
      setRefused(sentence(error));
    }
  };
  return (
    <main className="page">
      <Typography variant="h1">Sign in</Typography>
      <p>
        This browser is not signed in. Netter shows its sites only to browsers that its owner has signed in.
      </p>
      <ol className="steps-plain">
        <li>
          Look at the terminal in which Netter was started: it printed a one-time address. Open that address.
        </li>
        <li>
          No terminal, or the address was used? In the program&apos;s folder run{' '}
          <code className="mono">npm run -s netter -- sign-in</code> for a new one. A browser that is signed
          in makes one too: page &quot;Data&quot;, &quot;Sign in another browser&quot;.
        </li>
        <li>Or paste the address here.</li>
      </ol>
      <form className="page-tools" onSubmit={(event) => void send(event)}>
        <Input
          className="boxed mono search"
          aria-label="One-time address"
          placeholder="http://127.0.0.1:4860/sign-in#…"
          autoComplete="off"
          spellCheck={false}
          maxLength={300}
          value={typed}
          onChange={({ target }) => setTyped(target.value)}
        />
        <Button type="submit" variant="contained" disabled={typed.trim() === ''}>
          Sign in
        </Button>
      </form>
      {(refused || problem) && <p role="alert">{refused || problem}</p>}
    </main>
  );
}
