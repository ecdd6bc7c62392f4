import { NavLink } from 'react-router';
import { address, useSiteKey } from '../app/address';

/** The parts of Wiring. */
export function WiringTabs() {
    const site = useSiteKey();

    return (
        <nav aria-label="Wiring" className="mb-5 flex flex-wrap gap-x-5 border-b border-line">
            {[
                { to: address.wiring(site), label: 'Snippet and guard', end: true },
                { to: address.tags(site), label: 'Tags' },
                { to: address.coverage(site), label: 'Coverage' },
                { to: address.groups(site), label: 'What must stand where' },
                { to: address.briefs(site), label: 'Hand-off briefs' },
                { to: address.inspect(site), label: 'Inspect a page' },
            ].map(({ to, label, end }) => (
                <NavLink
                    key={to}
                    to={to}
                    end={end}
                    className={({ isActive }) =>
                        `border-b-3 px-1 py-1.5 ${isActive ? 'border-accent font-semibold' : 'border-transparent text-accent hover:border-line'}`
                    }
                >
                    {label}
                </NavLink>
            ))}
        </nav>
    );
}
