import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import { certificateOf, certificateSchema, type CertificatePlan } from '../../../core/index.ts';
import { newId, postJson, sentence } from '../../state/api.ts';
import { useSite } from '../../state/analysis.ts';
import { useAround } from '../../state/around.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { reveal, useVault, useVaultDialog } from '../../state/vault.ts';
import { download } from '../../parts/download.ts';
import { today } from '../../state/time.ts';
import { RemoveButton, useRows } from '../../parts/rows.tsx';
import { Headings } from '../../parts/table-head.tsx';
import { Input, Select } from '../../parts/inputs.tsx';
import '../../parts/panel.css';

const authorityName = 'authority';

/** The certificate authority of the site: keys in the vault, certificates and their ends in the plan. */
export default function Certificates() {
  const session = useSession();
  const site = useSite();
  const { state } = useVault();
  const openVault = useVaultDialog();
  const { authority, certificates } = usePlanPiece((plan) => plan.vpn);
  const siteName = usePlanPiece((plan) => plan.site.name);
  const { add, remove } = useRows<CertificatePlan>('/vpn/certificates');
  const [person, setPerson] = useState('');
  const [use, setUse] = useState<'client' | 'server'>('client');
  const [days, setDays] = useState(365);
  const [problem, setProblem] = useState('');
  const [password, setPassword] = useState('');
  const around = useAround();
  useEffect(() => {
    if (state !== 'open') setPassword('');
  }, [state]);
  const guarded = async (act: () => Promise<void>): Promise<void> => {
    try {
      await act();
      setProblem('');
    } catch (error) {
      setProblem(sentence(error));
    }
  };
  const make = (): Promise<void> =>
    guarded(async () => {
      const made = await postJson<{ pem: string }>('/api/vault/authority', {
        siteId: session.id,
        name: authorityName,
        site: siteName,
      });
      session.edit('/vpn/authority', { pem: made.pem, secret: authorityName });
      session.settle();
    });
  const issueOne = (): Promise<void> =>
    guarded(async () => {
      const id = newId();
      const secret = `certificate-${id}`;
      const made = await postJson<{ pem: string; serial: string; from: string; until: string }>(
        '/api/vault/issue',
        {
          siteId: session.id,
          authorityName,
          authorityPem: authority.pem,
          secretName: secret,
          person,
          use,
          days,
        },
      );
      add(certificateSchema.parse({ id, person, use, secret, ...made }), 'person');
      setPerson('');
    });
  const saveFile = (each: CertificatePlan): Promise<void> =>
    guarded(async () => {
      const { base64 } = await postJson<{ base64: string }>('/api/vault/pkcs12', {
        siteId: session.id,
        secretName: each.secret,
        pem: each.pem,
        authorityPem: authority.pem,
        person: each.person,
        password,
        around,
      });
      const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
      download(`${each.person}.p12`, [bytes], 'application/x-pkcs12');
    });
  const saveList = (): Promise<void> =>
    guarded(async () => {
      const made = await postJson<{ pem: string }>('/api/vault/revocations', {
        siteId: session.id,
        authorityName,
        authorityPem: authority.pem,
        revoked: certificates
          .filter(({ revoked }) => revoked !== '')
          .map(({ serial, revoked }) => ({ serial, date: revoked })),
      });
      download(`${siteName} revoked.crl.pem`, [made.pem], 'application/x-pem-file');
    });
  return (
    <section aria-labelledby="certificates" data-at="/vpn/certificates" tabIndex={-1}>
      <Typography variant="h3" id="certificates">
        Certificates of the site
      </Typography>
      {state !== 'open' ? (
        <p className="empty">
          Keys of certificates are in the vault.{' '}
          <Button onClick={() => openVault(authorityName)}>Open the vault</Button>
        </p>
      ) : authority.pem === '' ? (
        <p className="empty">
          No authority yet. It signs one certificate a person, each with an end, and a list of those that are
          revoked.{' '}
          <Button variant="contained" onClick={() => void make()}>
            Make the authority
          </Button>
        </p>
      ) : (
        <form
          className="bench-form"
          onSubmit={(event) => {
            event.preventDefault();
            void issueOne();
          }}
        >
          <label>
            For
            <Input
              className="boxed"
              value={person}
              placeholder={use === 'server' ? 'the name that remote users call' : 'a person and a device'}
              onChange={({ target }) => setPerson(target.value)}
              maxLength={200}
              list={use === 'client' ? 'people-of-the-site' : undefined}
            />
            <datalist id="people-of-the-site">
              {site.vpn.peers
                .filter((peer) => !peer.revoked && !certificateOf(site, peer))
                .map(({ id, name }) => (
                  <option key={id} value={name} />
                ))}
            </datalist>
          </label>
          <label>
            As
            <Select
              className="boxed"
              value={use}
              onChange={({ target }) => setUse(target.value as 'client' | 'server')}
            >
              <option value="client">a person</option>
              <option value="server">the router</option>
            </Select>
          </label>
          <label>
            Days
            <Input
              className="boxed mono short"
              inputMode="numeric"
              value={days}
              onChange={({ target }) => setDays(Math.min(3650, Math.max(1, Number(target.value) || 1)))}
            />
          </label>
          <Button type="submit" variant="contained" disabled={person.trim() === ''}>
            Issue it
          </Button>
        </form>
      )}
      {problem && <p role="alert">{problem}</p>}
      {certificates.length > 0 && (
        <Table className="losses" aria-label="Certificates">
          <Headings columns={['For', 'Serial', 'State']} actions />
          <TableBody>
            {certificates.map((each, index) => (
              <TableRow key={each.id}>
                <TableCell component="th" scope="row">
                  {each.person}
                </TableCell>
                <TableCell className="mono">{each.serial.slice(0, 8)}…</TableCell>
                <TableCell>{each.revoked ? `revoked ${each.revoked}` : `until ${each.until}`}</TableCell>
                <TableCell>
                  <Button
                    aria-label={`Save the certificate of ${each.person}`}
                    onClick={() => download(`${each.person}.pem`, [each.pem], 'application/x-pem-file')}
                  >
                    Save
                  </Button>{' '}
                  {state === 'open' && (
                    <Button
                      aria-label={`Save the key of ${each.person}`}
                      onClick={() =>
                        void guarded(async () =>
                          download(
                            `${each.person}.key.pem`,
                            [await reveal(session.id, each.secret)],
                            'application/x-pem-file',
                          ),
                        )
                      }
                    >
                      Key
                    </Button>
                  )}{' '}
                  {state === 'open' && each.use === 'client' && (
                    <Button
                      aria-label={`Both, .p12, of ${each.person}`}
                      disabled={password.length < 8}
                      onClick={() => void saveFile(each)}
                    >
                      Both, .p12
                    </Button>
                  )}{' '}
                  {each.revoked === '' && (
                    <Button
                      aria-label={`Revoke the certificate of ${each.person}`}
                      onClick={() => {
                        session.edit(`/vpn/certificates/${index}/revoked`, today());
                        session.settle();
                      }}
                    >
                      Revoke
                    </Button>
                  )}
                  <RemoveButton what={`the certificate of ${each.person}`} onClick={() => remove(index)} />
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      {authority.pem !== '' && (
        <div className="row-actions">
          {state === 'open' && (
            <Input
              type="password"
              className="boxed mono"
              aria-label="Password of a .p12 file"
              placeholder="password of a .p12 file"
              autoComplete="off"
              maxLength={200}
              value={password}
              onChange={({ target }) => setPassword(target.value)}
            />
          )}
          <Button
            onClick={() => download(`${siteName} authority.pem`, [authority.pem], 'application/x-pem-file')}
          >
            Save the authority&apos;s certificate
          </Button>
          {state === 'open' && <Button onClick={() => void saveList()}>Save the revocation list</Button>}
        </div>
      )}
    </section>
  );
}
