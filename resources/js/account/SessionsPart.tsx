import { useEndSignIn, useSignIns, type SignIn } from '../api/account';
import { Button } from '../parts/Button';
import { Moment } from '../parts/Moment';
import { Table, type Column } from '../parts/Table';
import { Waiting } from '../parts/Waiting';
import { clientName } from './clientName';

const METHODS: Record<SignIn['method'], string> = {
    password: 'password',
    code: 'password and code',
    'recovery-code': 'password and recovery code',
    'single-sign-on': 'single sign-on',
};

/** Where one is signed in, and the way to end that. */
export function SessionsPart() {
    const signIns = useSignIns();
    const end = useEndSignIn();
    const columns: Column<SignIn>[] = [
        { key: 'agent', head: 'With', cell: (one) => <span title={one.agent}>{clientName(one.agent)}</span> },
        { key: 'address', head: 'From', cell: (one) => <span className="font-mono text-sm">{one.address}</span> },
        { key: 'method', head: 'By', cell: (one) => METHODS[one.method] },
        { key: 'at', head: 'Since', cell: (one) => <Moment at={one.at} /> },
        { key: 'seen', head: 'Last used', cell: (one) => <Moment at={one.seen_at} /> },
        {
            key: 'end',
            head: '',
            wide: true,
            cell: (one) =>
                one.is_this ? (
                    <span className="text-soft">this one</span>
                ) : (
                    <Button disabled={end.isPending} onClick={() => end.mutate(one.id)}>
                        End it
                    </Button>
                ),
        },
    ];

    return (
        <Waiting query={signIns}>
            {(open) => (
                <div className="space-y-4">
                    <p className="max-w-3xl text-soft">
                        A session ends by itself an hour after you last did something, and after a day. If you do not know one of these, end
                        it and change your password.
                    </p>
                    <Table label="Sessions" columns={columns} rows={open} rowKey={(one) => `${one.id}`} />
                    {end.error && (
                        <p role="alert" className="text-broken">
                            {end.error.message}
                        </p>
                    )}
                    {open.length > 1 && (
                        <Button look="danger" disabled={end.isPending} onClick={() => end.mutate(null)}>
                            End all others
                        </Button>
                    )}
                </div>
            )}
        </Waiting>
    );
}
