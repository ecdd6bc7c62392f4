import { NavLink } from 'react-router';

/** The parts of a section, each with an address of its own. */
export function Tabs({ label, tabs }: { label: string; tabs: { to: string; label: string; end?: boolean }[] }) {
    return (
        <nav aria-label={label} className="mb-5 flex flex-wrap gap-x-5 border-b border-line">
            {tabs.map(({ to, label, end }) => (
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
