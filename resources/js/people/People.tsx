import { useState } from 'react';
import { useParams } from 'react-router';
import { useChangeMember, type Member } from '../api/account';
import { usePeople, useRight } from '../api/queries';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { Table, type Column } from '../parts/Table';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';
import { Closing } from './Closing';
import { Invitations } from './Invitations';
import { RIGHTS, rightOptions, rightWords } from './rights';

/** Who may do what on this site; for owners, the way to change it. */
export function People() {
    const site = useSiteKey();
    const people = usePeople(site);
    const { person } = useParams();
    const isOwner = useRight(site) === 'own';
    const change = useChangeMember(site);
    const [closing, setClosing] = useState<{ member: Member; what: 'close' | 'leave' | 'hand-over' } | null>(null);
    useTitle('People');
    const columns: Column<Member>[] = [
        {
            key: 'name',
            head: 'Name',
            cell: (one) => (
                <span className="font-semibold whitespace-nowrap">
                    {one.name}
                    {one.is_you && <span className="font-normal text-soft"> (you)</span>}
                </span>
            ),
            sort: (one) => one.name,
        },
        { key: 'email', head: 'E-mail', cell: (one) => one.email, sort: (one) => one.email },
        {
            key: 'right',
            head: 'May',
            cell: (one) =>
                one.closed ? (
                    <span className="text-soft">nothing any more</span>
                ) : isOwner ? (
                    <div className="flex items-center gap-3">
                        <div className="w-28 shrink-0">
                            <Choice
                                label={`What ${one.name} may`}
                                value={one.right}
                                options={rightOptions}
                                onChange={(right) => right !== one.right && change.mutate({ do: 'right', person: one.id, right })}
                            />
                        </div>
                        <span className="text-soft">{rightWords(one.right)}</span>
                    </div>
                ) : (
                    rightWords(one.right)
                ),
            sort: (one) => (one.closed ? -1 : RIGHTS.findIndex(({ right }) => right === one.right)),
            wide: true,
        },
        {
            key: 'codes',
            head: 'Codes',
            cell: (one) => (one.uses_codes ? 'yes' : <span className="text-soft">no</span>),
            sort: (one) => (one.uses_codes ? 1 : 0),
        },
        { key: 'owns', head: 'Experiments', numeric: true, cell: (one) => one.owns || '', sort: (one) => one.owns },
        {
            key: 'do',
            head: '',
            cell: (one) => (
                <span className="flex justify-end gap-2">
                    {isOwner && one.owns > 0 && <Button onClick={() => setClosing({ member: one, what: 'hand-over' })}>Hand over</Button>}
                    {one.is_you && !one.closed ? (
                        <Button look="danger" onClick={() => setClosing({ member: one, what: 'leave' })}>
                            Leave
                        </Button>
                    ) : isOwner && one.closed ? (
                        <Button onClick={() => change.mutate({ do: 'open', person: one.id })}>Let in again</Button>
                    ) : isOwner ? (
                        <Button look="danger" onClick={() => setClosing({ member: one, what: 'close' })}>
                            Close access
                        </Button>
                    ) : null}
                </span>
            ),
        },
    ];

    return (
        <div className="mx-auto max-w-7xl space-y-5 px-5 py-4">
            <h1 className="text-xl font-semibold">People</h1>
            <Waiting query={people}>
                {(known) => (
                    <>
                        <Table label="People" columns={columns} rows={known} rowKey={(one) => `${one.id}`} chosen={person} />
                        {change.error && closing === null && (
                            <p role="alert" className="text-broken">
                                {change.error.message}
                            </p>
                        )}
                        {closing && (
                            <Closing
                                {...closing}
                                others={known.filter((one) => !one.closed && one.id !== closing.member.id)}
                                onDone={() => setClosing(null)}
                            />
                        )}
                    </>
                )}
            </Waiting>
            {isOwner && <Invitations />}
        </div>
    );
}
