import { useState, type FormEvent } from 'react';
import { useParams } from 'react-router';
import { useRight } from '../api/queries';
import { useAgree, usePublishRequests, useRefuse, type PublishRequest } from '../api/requests';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { Moment } from '../parts/Moment';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';
import { includes } from '../people/rights';

const STATES: Record<PublishRequest['state'], string> = {
    open: 'Waits',
    done: 'Agreed to',
    refused: 'Refused',
    withdrawn: 'Withdrawn',
};

/** What somebody prepared and asks others to publish: what would change, and what became of it. */
export function Requests() {
    const site = useSiteKey();
    const requests = usePublishRequests(site);
    const { request } = useParams();
    useTitle('Requests');

    return (
        <div className="mx-auto max-w-5xl px-5 py-4">
            <h1 className="mb-1 text-xl font-semibold">Requests</h1>
            <p className="mb-4 max-w-3xl text-soft">
                What somebody prepared, for somebody who may publish. Whoever agrees does it, as it is written here, and stands for it in
                the Logbook.
            </p>
            <Waiting query={requests}>
                {(all) =>
                    all.length === 0 ? (
                        <p>Nobody has asked for anything yet.</p>
                    ) : (
                        <ul className="space-y-4">
                            {all.map((one) => (
                                <li key={one.id}>
                                    <One request={one} isChosen={request === `${one.id}`} />
                                </li>
                            ))}
                        </ul>
                    )
                }
            </Waiting>
        </div>
    );
}

function One({ request, isChosen }: { request: PublishRequest; isChosen: boolean }) {
    const site = useSiteKey();
    const mayPublish = includes(useRight(site), 'publish');
    const agree = useAgree(site);
    const refuse = useRefuse(site);
    const [said, setSaid] = useState('');
    const isOpen = request.state === 'open';
    const problem = agree.error ?? refuse.error;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        refuse.mutate({ id: request.id, answer: said });
    };

    return (
        <section aria-label={request.title} className={`border bg-leaf ${isChosen ? 'border-accent' : 'border-line'}`}>
            <div className="border-b border-line px-3 py-2">
                <h2 className="font-semibold">
                    {request.title} <span className="font-normal text-soft">· {STATES[request.state]}</span>
                </h2>
                <p className="text-sm text-soft">
                    {request.author}, <Moment at={request.at} />
                    {request.decider && (
                        <>
                            ; {STATES[request.state].toLowerCase()} by {request.decider}, <Moment at={request.decided_at} />
                        </>
                    )}
                </p>
                {request.note && <p className="mt-1">{request.note}</p>}
                {request.answer && <p className="mt-1">Answer: {request.answer}</p>}
            </div>
            {(isOpen || isChosen) && request.changes.length > 0 && <Changes changes={request.changes} />}
            {isOpen && (mayPublish || request.is_yours) && (
                <form onSubmit={submit} className="flex flex-wrap items-end gap-3 p-3">
                    {mayPublish && (
                        <Button look="main" disabled={agree.isPending} onClick={() => agree.mutate(request)}>
                            Agree, and do it
                        </Button>
                    )}
                    {!request.is_yours && (
                        <div className="min-w-0 flex-1 basis-60">
                            <TextField label="Why not, if you refuse" value={said} onChange={(event) => setSaid(event.target.value)} />
                        </div>
                    )}
                    <Button type="submit" look="danger" disabled={refuse.isPending}>
                        {request.is_yours ? 'Withdraw' : 'Refuse'}
                    </Button>
                </form>
            )}
            {problem && (
                <p role="alert" className="px-3 pb-3 text-broken">
                    {problem.message}
                </p>
            )}
        </section>
    );
}

const shown = (value: unknown): string =>
    value === null || value === undefined ? '—' : typeof value === 'string' ? value : JSON.stringify(value);

function Changes({ changes }: { changes: PublishRequest['changes'] }) {
    return (
        <div className="overflow-x-auto border-b border-line">
            <table className="w-full text-sm">
                <thead>
                    <tr className="border-b border-line text-left text-soft">
                        <th className="px-3 py-1 font-normal">What</th>
                        <th className="px-3 py-1 font-normal">Now</th>
                        <th className="px-3 py-1 font-normal">Then</th>
                    </tr>
                </thead>
                <tbody>
                    {changes.map(({ field, before, after }) => (
                        <tr key={field} className="border-b border-line align-top last:border-0">
                            <td className="px-3 py-1 font-mono">{field}</td>
                            <td className="max-w-80 px-3 py-1 font-mono break-words">{shown(before)}</td>
                            <td className="max-w-80 px-3 py-1 font-mono break-words">{shown(after)}</td>
                        </tr>
                    ))}
                </tbody>
            </table>
        </div>
    );
}
