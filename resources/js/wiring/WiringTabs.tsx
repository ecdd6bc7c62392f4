import { NavLink } from 'react-router';
import { address, useSiteKey } from '../app/address';

/** The parts of Wiring. */
export function WiringTabs() {
    const site = useSiteKey();

    return (
        <nav aria-label="Wiring" className="mb-5 flex gap-5 border-b border-line">
            {[
                { to: address.wiring(site), label: 'Snippet and guard' },
                { to: address.inspect(site), label: 'Inspect a page' },
            ].map(({ to, label }) => (
                <NavLink
                    key={to}
                    to={to}
                    end
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
