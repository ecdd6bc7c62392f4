import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { useEffect, useState } from 'react';
import { NavLink, Navigate, Outlet, useLocation, useNavigate } from 'react-router';
import { Problem } from '../api/client';
import { useSession, useSignOut } from '../api/queries';
import { address, useSiteKey } from './address';
import { Finder } from './Finder';
import { useKeys } from './keys';
import { Moved } from './Moved';
import { Shortcuts } from './Shortcuts';

/** The slim bar on top, and below it whatever the address names. */
export function Shell() {
    const session = useSession();
    const site = useSiteKey();
    const { pathname, search } = useLocation();
    const navigate = useNavigate();
    const [finding, setFinding] = useState(false);
    const [helping, setHelping] = useState(false);

    useKeys({
        'g b': () => navigate(address.bench(site)),
        'g w': () => navigate(address.wiring(site)),
        'g m': () => navigate(address.goals(site)),
        'g a': () => navigate(address.audits(site)),
        'g l': () => navigate(address.logbook(site)),
        '?': () => setHelping(true),
    });
    useEffect(() => {
        const press = (event: KeyboardEvent): void => {
            if (event.key.toLowerCase() === 'k' && (event.ctrlKey || event.metaKey)) {
                event.preventDefault();
                setFinding(true);
            }
        };
        addEventListener('keydown', press);

        return () => removeEventListener('keydown', press);
    }, []);

    if (session.isPending) {
        return <p className="p-6 text-soft">Reading…</p>;
    }
    if (session.error instanceof Problem && !session.error.isSignedOut) {
        return (
            <p role="alert" className="p-6 text-broken">
                {session.error.message}
            </p>
        );
    }
    if (!session.data) {
        return <Navigate to={`/sign-in?to=${encodeURIComponent(pathname + search)}`} replace />;
    }
    const known = session.data.sites.find((one) => one.key === site);

    return (
        <>
            {!known && <Moved />}
            <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-40 focus:bg-leaf focus:p-2">
                Skip to the content
            </a>
            <header className="flex flex-wrap items-center gap-x-6 gap-y-1 bg-ink px-5 py-2 text-white">
                <SiteSwitcher sites={session.data.sites} current={known?.name ?? 'Choose a site'} makesSites={session.data.makes_sites} />
                <nav aria-label="Sections" className="flex gap-1">
                    <Section to={address.bench(site)}>Bench</Section>
                    <Section to={address.wiring(site)}>Wiring</Section>
                    <Section to={address.goals(site)}>Measures</Section>
                    <Section to={address.audits(site)}>Audits</Section>
                    <Section to={address.logbook(site)}>Logbook</Section>
                </nav>
                <button
                    type="button"
                    onClick={() => setFinding(true)}
                    className="ml-auto flex items-center gap-3 border border-white/40 px-3 py-0.5 text-white/90 hover:border-white max-sm:ml-0"
                >
                    Find <kbd className="font-mono text-xs text-white/80">Ctrl K</kbd>
                </button>
                <PersonMenu name={session.data.name} onHelp={() => setHelping(true)} />
            </header>
            <main id="main" tabIndex={-1} className="focus:outline-none">
                {known?.archived && (
                    <p role="status" className="border-b border-line bg-leaf px-5 py-1.5 text-doubt-ink">
                        This site is archived: nothing is taken for it, and nothing can be changed.
                    </p>
                )}
                {known ? <Outlet /> : <p className="p-6">You look after no site with the key “{site}”. Choose another one above.</p>}
            </main>
            <Finder open={finding} onClose={() => setFinding(false)} />
            <Shortcuts open={helping} onClose={() => setHelping(false)} />
        </>
    );
}

function Section({ to, children }: { to: string; children: string }) {
    return (
        <NavLink
            to={to}
            className={({ isActive }) =>
                `border-b-2 px-2 py-0.5 hover:border-white ${isActive ? 'border-white font-semibold' : 'border-transparent text-white/85'}`
            }
        >
            {children}
        </NavLink>
    );
}

const PANEL = 'z-20 mt-1 min-w-56 border border-ink bg-leaf py-1 text-ink focus:outline-none';
const ITEM = 'block w-full px-3 py-1 text-left data-focus:bg-accent data-focus:text-white';

interface Switching {
    sites: { key: string; name: string; archived: boolean }[];
    current: string;
    makesSites: boolean;
}

function SiteSwitcher({ sites, current, makesSites }: Switching) {
    return (
        <Menu>
            <MenuButton className="flex items-center gap-2 font-semibold" aria-label={`Site: ${current}`}>
                <img src="/favicon.svg" alt="" width="22" height="22" className="bg-ground p-0.5" />
                {current}
                <svg viewBox="0 0 10 6" width="10" height="6" aria-hidden="true">
                    <path d="m1 1 4 4 4-4" fill="none" stroke="currentColor" strokeWidth="1.5" />
                </svg>
            </MenuButton>
            <MenuItems anchor="bottom start" className={PANEL}>
                {sites.map((one) => (
                    <MenuItem key={one.key}>
                        <NavLink to={address.bench(one.key)} className={ITEM}>
                            {one.name} <span className="font-mono text-xs">{one.key}</span>
                            {one.archived && ' (archived)'}
                        </NavLink>
                    </MenuItem>
                ))}
                {makesSites && (
                    <MenuItem>
                        <NavLink to="/new-site" className={`${ITEM} border-t border-line`}>
                            Make a site
                        </NavLink>
                    </MenuItem>
                )}
            </MenuItems>
        </Menu>
    );
}

function PersonMenu({ name, onHelp }: { name: string; onHelp: () => void }) {
    const site = useSiteKey();
    const signOut = useSignOut();
    const navigate = useNavigate();

    return (
        <Menu>
            <MenuButton className="border-b border-white/50 hover:border-white">{name}</MenuButton>
            <MenuItems anchor="bottom end" className={PANEL}>
                <MenuItem>
                    <NavLink to={address.account(site)} className={ITEM}>
                        Your account
                    </NavLink>
                </MenuItem>
                <MenuItem>
                    <NavLink to={address.requests(site)} className={ITEM}>
                        Requests
                    </NavLink>
                </MenuItem>
                <MenuItem>
                    <NavLink to={address.settings(site)} className={ITEM}>
                        Site settings
                    </NavLink>
                </MenuItem>
                <MenuItem>
                    <NavLink to={address.firstSteps(site)} className={ITEM}>
                        First steps of this site
                    </NavLink>
                </MenuItem>
                <MenuItem>
                    <NavLink to={address.people(site)} className={ITEM}>
                        People of this site
                    </NavLink>
                </MenuItem>
                <MenuItem>
                    <NavLink to={address.notices(site)} className={ITEM}>
                        Notices
                    </NavLink>
                </MenuItem>
                <MenuItem>
                    <button type="button" className={ITEM} onClick={onHelp}>
                        Keyboard shortcuts
                    </button>
                </MenuItem>
                <MenuItem>
                    <button
                        type="button"
                        className={ITEM}
                        onClick={() => signOut.mutate(undefined, { onSettled: () => navigate('/sign-in') })}
                    >
                        Sign out
                    </button>
                </MenuItem>
            </MenuItems>
        </Menu>
    );
}
