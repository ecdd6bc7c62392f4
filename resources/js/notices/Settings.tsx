import { useState, type FormEvent } from 'react';
import { Link } from 'react-router';
import { useKeepNoticeSetting, useNoticeSettings, useTestMail, type NoticeSetting, type SettingBody } from '../api/notices';
import { useSite } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { Tick } from '../parts/RuleBuilder';
import { useDraft } from '../parts/useDraft';
import { Waiting } from '../parts/Waiting';
import { Frame } from './Frame';
import { WishChoice, wishWords } from './WishChoice';

/** What one is told by mail, and when not; the owner sees and decides that for everybody. */
export function Settings() {
    const settings = useNoticeSettings(useSiteKey());
    const [other, setOther] = useState<number | null>(null);

    return (
        <Frame title="Who is told what">
            <Waiting query={settings}>
                {({ mine, people, kept_here }) => (
                    <div className="grid gap-8 lg:grid-cols-2">
                        <section aria-label="What you are told">
                            <h2 className="font-semibold">You, {mine.email}</h2>
                            <SettingForm key={mine.person} setting={mine} />
                            <TestMail isKeptHere={kept_here} />
                        </section>
                        {people.length > 1 && (
                            <section aria-label="Everybody else">
                                <h2 className="mb-2 font-semibold">Everybody else who looks after this site</h2>
                                <ul className="border-y border-line bg-leaf">
                                    {people
                                        .filter(({ person }) => person !== mine.person)
                                        .map((one) => (
                                            <li key={one.person} className="border-b border-line px-3 py-2 last:border-b-0">
                                                <div className="flex flex-wrap items-baseline gap-x-3">
                                                    <span className="font-semibold">{one.name}</span>
                                                    <span className="flex-1 text-sm text-soft">{inWords(one)}</span>
                                                    <Button
                                                        aria-expanded={other === one.person}
                                                        onClick={() => setOther(other === one.person ? null : one.person)}
                                                    >
                                                        {other === one.person ? 'Close' : 'Change'}
                                                    </Button>
                                                </div>
                                                {other === one.person && <SettingForm setting={one} person={one.person} />}
                                            </li>
                                        ))}
                                </ul>
                            </section>
                        )}
                    </div>
                )}
            </Waiting>
        </Frame>
    );
}

function inWords({ wish, digest, quiet_from, quiet_to }: NoticeSetting): string {
    return [
        wishWords(wish),
        digest ? 'the week on Mondays' : 'no weekly digest',
        quiet_from ? `quiet from ${quiet_from} to ${quiet_to ?? ''}` : '',
    ]
        .filter(Boolean)
        .join('; ');
}

const bodyOf = ({ wish, digest, quiet_from, quiet_to }: SettingBody): SettingBody => ({
    wish,
    digest,
    quiet_from: quiet_from || null,
    quiet_to: quiet_to || null,
});

function SettingForm({ setting, person }: { setting: NoticeSetting; person?: number }) {
    const site = useSiteKey();
    const zone = useSite(site).data?.time_zone;
    const save = useKeepNoticeSetting(site, person);
    const form = useDraft<SettingBody>(() => bodyOf(setting), save, bodyOf);
    const { draft, errors, set } = form;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        save.mutate(bodyOf(draft), { onSuccess: () => form.kept() });
    };

    return (
        <form onSubmit={submit} noValidate className="mt-2 max-w-xl space-y-3">
            <div>
                <p className="mb-0.5 font-semibold">By mail, as soon as it is noticed</p>
                <WishChoice label="By mail, as soon as it is noticed" value={draft.wish} onChange={(wish) => set({ wish })} />
            </div>
            <Tick
                label="What happened in the week before, on Mondays at 08:00"
                on={draft.digest}
                onChange={() => set({ digest: !draft.digest })}
            />
            <div className="grid gap-3 sm:grid-cols-2">
                <TextField
                    label="Quiet from"
                    placeholder="22:00"
                    inputMode="numeric"
                    value={draft.quiet_from ?? ''}
                    error={errors.quiet_from}
                    onChange={(event) => set({ quiet_from: event.target.value })}
                />
                <TextField
                    label="Quiet until"
                    placeholder="07:00"
                    inputMode="numeric"
                    value={draft.quiet_to ?? ''}
                    error={errors.quiet_to}
                    onChange={(event) => set({ quiet_to: event.target.value })}
                />
            </div>
            <p className="text-sm text-soft">
                In quiet hours nothing is sent; it waits for their end. Leave both empty for none. Times are those of {zone ?? 'the site'}.
            </p>
            <FormFoot form={form} submit="Keep" saved="Kept." inFlow onLeaf={person !== undefined} />
        </form>
    );
}

function TestMail({ isKeptHere }: { isKeptHere: boolean }) {
    const site = useSiteKey();
    const test = useTestMail(site);

    return (
        <div className="mt-4 max-w-xl space-y-2 border-t border-line pt-3">
            <p>
                {isKeptHere ? (
                    <>
                        This copy of Pellix has no mail server: mails stay in the{' '}
                        <Link to={address.notices(site, 'outbox')} className="text-accent underline underline-offset-4">
                            outbox
                        </Link>
                        , where you can read them.
                    </>
                ) : (
                    'Mails go to the mail server of this copy.'
                )}
            </p>
            <Button disabled={test.isPending} onClick={() => test.mutate()}>
                Send me a test
            </Button>
            <span role="status" className="ml-3">
                {test.isSuccess && (
                    <>
                        It is on its way;{' '}
                        <Link to={address.notices(site, 'told')} className="text-accent underline underline-offset-4">
                            see what becomes of it
                        </Link>
                        .
                    </>
                )}
            </span>
            {test.error && (
                <p role="alert" className="text-broken">
                    {test.error.message}
                </p>
            )}
        </div>
    );
}
