import { useNavigate, useParams } from 'react-router';
import { useKeptMail, useKeptMails, useNoticeSettings } from '../api/notices';
import { address, useSiteKey } from '../app/address';
import { Moment } from '../parts/Moment';
import { Table } from '../parts/Table';
import { Waiting } from '../parts/Waiting';
import { held } from '../parts/words';
import { Frame } from './Frame';

/** The mails that this copy kept instead of sending them, and one of them beside the list. */
export function Outbox() {
    const site = useSiteKey();
    const navigate = useNavigate();
    const mails = useKeptMails(site);
    const isKeptHere = useNoticeSettings(site).data?.kept_here ?? true;
    const chosen = useParams().mail;

    return (
        <Frame title="Outbox">
            <p className="mb-3 max-w-3xl text-soft">
                {isKeptHere
                    ? 'This copy of Pellix has no mail server. What it would send is kept here; whoever looks after the site reads what is for them, its owner reads all.'
                    : 'Mails go to the mail server of this copy. Here stands what was kept before.'}
            </p>
            <Waiting query={mails}>
                {(all) =>
                    all.length === 0 ? (
                        <p>No mail is kept here.</p>
                    ) : (
                        <div className="grid items-start gap-6 xl:grid-cols-[3fr_2fr]">
                            <Table
                                label="Mails"
                                columns={[
                                    { key: 'at', head: 'When', cell: (one) => <Moment at={one.at} />, className: 'px-3 py-1 align-top' },
                                    { key: 'recipient', head: 'To', cell: (one) => one.recipient, className: 'px-3 py-1 align-top' },
                                    {
                                        key: 'subject',
                                        head: 'Subject',
                                        cell: (one) => (
                                            <button
                                                type="button"
                                                className="text-left text-accent underline-offset-4 hover:underline"
                                                aria-current={`${one.mail}` === chosen}
                                                onClick={() => void navigate(address.notices(site, 'outbox', one.mail))}
                                            >
                                                {held(one.subject)}
                                            </button>
                                        ),
                                        wide: true,
                                    },
                                ]}
                                rows={all}
                                rowKey={(one) => `${one.mail}`}
                                chosen={chosen}
                                onOpen={(one) => void navigate(address.notices(site, 'outbox', one.mail))}
                                opensOnMove
                            />
                            {chosen && <Mail site={site} mail={Number(chosen)} />}
                        </div>
                    )
                }
            </Waiting>
        </Frame>
    );
}

function Mail({ site, mail }: { site: string; mail: number }) {
    const read = useKeptMail(site, mail);

    return (
        <Waiting query={read}>
            {(one) => (
                <article className="border border-line bg-leaf" aria-label={one.subject}>
                    <header className="space-y-0.5 border-b border-line px-3 py-2">
                        <h2 className="font-semibold">{held(one.subject)}</h2>
                        <p className="text-sm text-soft">
                            To {one.recipient}, <Moment at={one.at} seconds />
                        </p>
                    </header>
                    {/* Without any right: names of experiments and what a site sent stand in it. */}
                    <iframe title={`The mail: ${one.subject}`} srcDoc={one.html} sandbox="" className="h-[26rem] w-full" />
                    <details className="border-t border-line px-3 py-2">
                        <summary className="cursor-pointer">As text</summary>
                        <pre
                            className="mt-2 overflow-x-auto font-mono text-sm whitespace-pre-wrap"
                            tabIndex={0}
                            aria-label="The mail as text"
                        >
                            {one.text}
                        </pre>
                    </details>
                </article>
            )}
        </Waiting>
    );
}
