import { useState, type FormEvent } from 'react';
import { useSearchParams } from 'react-router';
import type { Experiment, Site } from '../../api/client';
import { Problem } from '../../api/client';
import { useLoupeLinks, useMakeLoupeLink, useRevokeLoupeLink, type LoupeLink } from '../../api/loupe';
import { useRight } from '../../api/queries';
import { Button } from '../../parts/Button';
import { Choice } from '../../parts/Choice';
import { TextField } from '../../parts/Field';
import { count } from '../../parts/figures';
import { Moment } from '../../parts/Moment';
import { Table, type Column } from '../../parts/Table';
import { Waiting } from '../../parts/Waiting';
import { firstPage } from './firstPage';
import { useOnPage } from './useOnPage';

const HOURS = [
    { value: '1', label: 'One hour' },
    { value: '24', label: 'One day' },
    { value: '168', label: 'A week' },
    { value: '720', label: '30 days' },
];

/** Looking at the experiment where it stands, and links for others to do so: nothing of it is counted. */
export function PreviewPage({ site, experiment }: { site: Site; experiment: Experiment }) {
    const links = useLoupeLinks(site.key, experiment.key);
    const mayWork = useRight(site.key) !== 'look';
    const [wrong, setWrong] = useState<string>();
    const [url, setUrl] = useState(() => firstPage(experiment.pages, site.demo_origin ?? `https://${site.hosts[0]}`));
    if (!mayWork) {
        return <p className="mx-auto max-w-7xl px-5 py-4">Previews are made by whoever may work on this site; ask its owner.</p>;
    }

    return (
        <div className="mx-auto max-w-7xl space-y-6 px-5 py-4">
            <div className="max-w-2xl">
                <TextField
                    label="Page that it opens"
                    value={url}
                    className="font-mono text-sm"
                    error={wrong}
                    note="Any page of the site, with its query where it needs one."
                    onChange={(event) => {
                        setUrl(event.target.value);
                        setWrong(undefined);
                    }}
                />
            </div>
            <div className="grid gap-8 lg:grid-cols-2">
                <Own site={site} experiment={experiment} url={url} onWrong={setWrong} />
                <Send site={site} experiment={experiment} url={url} onWrong={setWrong} />
            </div>
            <section aria-label="Links">
                <h2 className="mb-1 text-lg font-semibold">Links</h2>
                <Waiting query={links}>
                    {(all) =>
                        all.length === 0 ? (
                            <p className="text-soft">No link to this experiment has been made yet.</p>
                        ) : (
                            <Links site={site.key} experiment={experiment} all={all} />
                        )
                    }
                </Waiting>
            </section>
        </div>
    );
}

interface FormProps {
    site: Site;
    experiment: Experiment;
    url: string;
    /** Told what is wrong with the address. */
    onWrong: (message?: string) => void;
}

/** The page with the Loupe on it, in another tab, for oneself. */
function Own({ site, experiment, url, onWrong }: FormProps) {
    const page = useOnPage(site.key);
    const errors = page.error instanceof Problem ? page.error.errors : {};
    const open = (event: FormEvent): void => {
        event.preventDefault();
        page.open({ purpose: 'look', experiment: experiment.key, variant: null, url }, (error) =>
            onWrong(error instanceof Problem ? error.errors.url?.[0] : undefined),
        );
    };

    return (
        <form onSubmit={open} noValidate className="space-y-3">
            <h2 className="text-lg font-semibold">Look at it yourself</h2>
            <p>
                The page opens with the Loupe at its edge: it shows every variant, for any visitor, consent and width of screen, and says
                what happened there and why. No visit with it is counted.
            </p>
            <Button type="submit" look="main" disabled={page.isPending}>
                Open it with the Loupe
            </Button>
            {page.error && !errors.url && (
                <p role="alert" className="text-sm text-broken">
                    {page.error.message}
                </p>
            )}
        </form>
    );
}

/** A link for somebody who has nothing installed and no account. */
function Send({ site, experiment, url, onWrong }: FormProps) {
    const [recipient, setRecipient] = useState('');
    const [params] = useSearchParams();
    const [variant, setVariant] = useState(() => experiment.variants.find(({ key }) => key === params.get('variant'))?.key ?? '');
    const [hours, setHours] = useState('168');
    const make = useMakeLoupeLink(site.key);
    const errors = make.error instanceof Problem ? make.error.errors : {};
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        make.mutate(
            { purpose: 'preview', experiment: experiment.key, variant: variant || null, url, recipient, hours: Number(hours) },
            {
                onSuccess: () => setRecipient(''),
                onError: (error) => onWrong(error instanceof Problem ? error.errors.url?.[0] : undefined),
            },
        );
    };

    return (
        <form onSubmit={submit} noValidate className="space-y-3">
            <h2 className="text-lg font-semibold">Send a preview</h2>
            <p>
                For a colleague or a client: they see the page, and choose variant, visitor and screen. They need nothing, and see nothing
                of Pellix beside.
            </p>
            <div className="grid items-start gap-3 sm:grid-cols-2">
                <TextField
                    label="For whom"
                    value={recipient}
                    error={errors.recipient?.[0]}
                    onChange={(event) => setRecipient(event.target.value)}
                />
                <div>
                    <span className="mb-0.5 block font-semibold">Works for</span>
                    <Choice label="How long the link works" value={hours} options={HOURS} onChange={setHours} />
                </div>
                <div>
                    <span className="mb-0.5 block font-semibold">Shows</span>
                    <Choice
                        label="Which variants it shows"
                        value={variant}
                        options={[
                            { value: '', label: 'All variants' },
                            ...experiment.variants.map(({ key, name }) => ({ value: key, label: `Only: ${name}` })),
                        ]}
                        onChange={setVariant}
                    />
                </div>
            </div>
            <Button type="submit" look="main" disabled={make.isPending}>
                Make a link
            </Button>
            {make.error && !errors.recipient && !errors.url && (
                <p role="alert" className="text-sm text-broken">
                    {errors.variant?.[0] ?? make.error.message}
                </p>
            )}
        </form>
    );
}

function Links({ site, experiment, all }: { site: string; experiment: Experiment; all: LoupeLink[] }) {
    const columns: Column<LoupeLink>[] = [
        {
            key: 'who',
            head: 'For whom',
            sort: ({ recipient }) => recipient,
            className: 'min-w-48 px-3 py-1.5 align-top',
            cell: ({ recipient, purpose, author }) => (
                <>
                    {recipient}{' '}
                    <span className="block text-sm text-soft">
                        {{ look: 'looks at it themselves', change: 'changes it on the page', preview: `made by ${author}` }[purpose]}
                    </span>
                </>
            ),
        },
        {
            key: 'what',
            head: 'Shows',
            wide: true,
            className: 'px-3 py-1.5 align-top',
            cell: ({ url, variant }) => (
                <>
                    {variant === null ? 'all variants' : (experiment.variants.find(({ key }) => key === variant)?.name ?? variant)}
                    <span className="block font-mono text-xs break-all text-soft">{url}</span>
                </>
            ),
        },
        {
            key: 'used',
            head: 'Used',
            className: 'px-3 py-1.5 align-top text-sm',
            sort: ({ used }) => used ?? '',
            cell: ({ used, pages }) =>
                used === null ? (
                    <span className="text-soft">not yet</span>
                ) : (
                    <>
                        {`${count(pages)} ${pages === 1 ? 'page' : 'pages'}, last `}
                        <Moment at={used} />
                    </>
                ),
        },
        {
            key: 'ends',
            head: 'Ends',
            className: 'px-3 py-1.5 align-top text-sm',
            sort: ({ ends }) => ends,
            cell: ({ ends, revoked, open }) =>
                revoked ? (
                    <>
                        revoked <Moment at={revoked} />
                    </>
                ) : (
                    <>
                        {!open && 'ended '}
                        <Moment at={ends} />
                    </>
                ),
        },
        {
            key: 'do',
            head: '',
            className: 'px-3 py-1.5 align-top',
            cell: (link) => link.open && <Doings site={site} link={link} />,
        },
    ];

    return <Table label="Links" columns={columns} rows={all} rowKey={({ link }) => String(link)} />;
}

function Doings({ site, link }: { site: string; link: LoupeLink }) {
    const revoke = useRevokeLoupeLink(site);
    const [copied, setCopied] = useState(false);

    return (
        <span className="flex gap-2 whitespace-nowrap">
            {link.address !== null && (
                <Button
                    onClick={() =>
                        void navigator.clipboard?.writeText(link.address ?? '').then(
                            () => setCopied(true),
                            () => setCopied(false),
                        )
                    }
                >
                    {copied ? 'Copied' : 'Copy'}
                </Button>
            )}
            <Button look="danger" disabled={revoke.isPending} onClick={() => revoke.mutate(link.link)}>
                Revoke
            </Button>
        </span>
    );
}
