import { useParams } from 'react-router';
import type { Schemas } from '../api/client';
import { usePeople } from '../api/queries';
import { useSiteKey } from '../app/address';
import { Table, type Column } from '../parts/Table';
import { Waiting } from '../parts/Waiting';

type Person = Schemas['Member'];

const RIGHTS: { right: Person['right']; words: string }[] = [
    { right: 'look', words: 'see everything' },
    { right: 'work', words: 'see everything, define goals, tags and experiments, inspect pages' },
    { right: 'publish', words: 'see and define everything, start and stop experiments, publish code, change what is captured' },
    { right: 'own', words: 'everything, and decide who may what' },
];

const COLUMNS: Column<Person>[] = [
    {
        key: 'name',
        head: 'Name',
        cell: (one) => <span className="font-semibold whitespace-nowrap">{one.name}</span>,
        sort: (one) => one.name,
    },
    { key: 'email', head: 'E-mail', cell: (one) => one.email, sort: (one) => one.email },
    {
        key: 'right',
        head: 'May',
        cell: (one) => RIGHTS.find(({ right }) => right === one.right)?.words,
        sort: (one) => RIGHTS.findIndex(({ right }) => right === one.right),
        wide: true,
    },
];

/** Who may do what on this site. */
export function People() {
    const people = usePeople(useSiteKey());
    const { person } = useParams();

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <h1 className="mb-3 text-xl font-semibold">People</h1>
            <Waiting query={people}>
                {(known) => <Table label="People" columns={COLUMNS} rows={known} rowKey={(one) => `${one.id}`} chosen={person} />}
            </Waiting>
        </div>
    );
}
