import { Group } from '@visx/group';
import { scaleLinear } from '@visx/scale';
import { AreaClosed, LinePath } from '@visx/shape';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { AuditViews } from '../../api/audits';
import { useSite } from '../../api/queries';
import { Axes } from '../../parts/charts/Axes';
import { Brush } from '../../parts/charts/Brush';
import { Figure } from '../../parts/charts/Figure';
import { ACCENT, BROKEN, dayTicks, INK, MARGIN, timeWords } from '../../parts/charts/frame';
import { Hatch } from '../../parts/charts/Hatch';
import { Points, type Point } from '../../parts/charts/Points';
import { Readout } from '../../parts/charts/Readout';
import { count, percent } from '../../parts/figures';
import { Moment } from '../../parts/Moment';
import { Table, type Column } from '../../parts/Table';
import type { ViewProps } from '../AuditPage';
import { NumberLink } from '../NumberLink';
import { useChoose } from '../part';

type Volume = AuditViews['volume'];
type Row = Volume['rows'][number];
type Gap = Volume['gaps'][number];

const HEIGHT = 280;

/** Events hour by hour against what was to be expected, with stretches of too few marked and described. */
export function VolumeView({ views, site }: ViewProps) {
    const { volume } = views;
    if (volume.rows.length === 0) {
        return (
            <p className="border-y border-line bg-leaf p-8 text-soft">
                {volume.kept
                    ? 'There are no events in this part.'
                    : 'The events of this segment were not counted by the hour: there are too many like it. Look at its browser, device or page alone.'}
            </p>
        );
    }

    return (
        <div className="space-y-5">
            <Figure title="Volume" summary={summary(volume)} table={<Hours volume={volume} />}>
                {(width) => <Course site={site} volume={volume} width={width} />}
            </Figure>
            {volume.gaps.length > 0 && <Gaps gaps={volume.gaps} />}
        </div>
    );
}

function summary({ rows, gaps, step_hours }: Volume): string {
    const all = rows.reduce((sum, row) => sum + row.events, 0);

    return `${count(all)} events of people, without what the runtime tells of itself, by ${step_hours === 1 ? 'the hour' : `${step_hours} hours`}${rows[0].expected === null ? '; too short a time to tell what was to be expected' : ''}. ${gaps.length === 0 ? 'No stretch has too few.' : `${gaps.length} ${gaps.length === 1 ? 'stretch has' : 'stretches have'} too few, the clearest ${gaps[0].words}.`}`;
}

function Course({ site, volume, width }: { site: string; volume: Volume; width: number }) {
    const zone = useSite(site).data?.time_zone ?? 'UTC';
    const choose = useChoose();
    const [looked, setLooked] = useState<Point | null>(null);
    const step = volume.step_hours * 3_600_000;
    const rows = volume.rows.map((row) => ({ ...row, ms: new Date(row.at).getTime() }));
    const [from, to] = [rows[0].ms, rows[rows.length - 1].ms + step];
    const inner = width - MARGIN.left - MARGIN.right;
    const height = HEIGHT - MARGIN.top - MARGIN.bottom;
    const x = scaleLinear<number>({ domain: [from, to], range: [0, inner] });
    const y = scaleLinear<number>({
        domain: [0, Math.max(1, ...rows.map((row) => Math.max(row.events, row.expected ?? 0)))],
        range: [height, 0],
        nice: true,
    });
    const words = timeWords(zone, to - from);
    const points = volume.gaps.map((gap, i): Point => {
        const [a, b] = ends(gap, from, to);

        return {
            key: String(i),
            x: x((a + b) / 2),
            y: 8,
            words: gapWords(gap),
            mark: (
                <g>
                    <rect
                        x={x(a)}
                        width={Math.max(3, x(b) - x(a))}
                        height={height}
                        fill="url(#gap)"
                        stroke={BROKEN}
                        strokeDasharray="3 3"
                    />
                    <text x={x(a) + 3} y={12} fontSize={12} fontWeight={700} fill={BROKEN}>
                        {i + 1}
                    </text>
                </g>
            ),
        };
    });

    return (
        <>
            <svg width={width} height={HEIGHT} role="group" aria-label="Events against expectation">
                <Hatch id="gap" colour="#E3A29D" />
                <Group left={MARGIN.left} top={MARGIN.top}>
                    <Axes
                        x={x}
                        y={y}
                        xTicks={dayTicks(zone, from, to, Math.floor(inner / 80))}
                        xWords={words}
                        yWords={(value) => count(value)}
                    />
                    <AreaClosed
                        data={rows}
                        x={(row) => x(row.ms + step / 2)}
                        y={(row) => y(row.events)}
                        yScale={y}
                        fill={ACCENT}
                        fillOpacity={0.15}
                    />
                    <LinePath data={rows} x={(row) => x(row.ms + step / 2)} y={(row) => y(row.events)} stroke={ACCENT} strokeWidth={1.5} />
                    <LinePath
                        data={rows.filter((row) => row.expected !== null)}
                        x={(row) => x(row.ms + step / 2)}
                        y={(row) => y(row.expected ?? 0)}
                        stroke={INK}
                        strokeWidth={1}
                        strokeDasharray="4 3"
                    />
                    <Brush
                        width={inner}
                        height={height}
                        chosen={null}
                        onBrush={(a, b) =>
                            choose({
                                since: new Date(Math.floor(x.invert(a) / 3_600_000) * 3_600_000).toISOString().replace('.000Z', 'Z'),
                                until: new Date(Math.ceil(x.invert(b) / 3_600_000) * 3_600_000).toISOString().replace('.000Z', 'Z'),
                            })
                        }
                    />
                    <Points label="Stretches with too few events" points={points} onLook={setLooked} />
                </Group>
            </svg>
            <Readout
                words={looked?.words ?? null}
                hint="Solid: what arrived. Dashed: what was to be expected of that hour of the week. Striped: too few. Drag to look at a stretch."
            />
        </>
    );
}

const ends = (gap: Gap, from: number, to: number): [number, number] => [
    Math.max(from, gap.since ? new Date(gap.since).getTime() : from),
    Math.min(to, gap.until ? new Date(gap.until).getTime() : to),
];

const gapWords = (gap: Gap): string =>
    `${gap.words}: ${count(gap.events)} instead of about ${count(gap.expected)}${gap.silence ? ', a silence' : ` (${percent(gap.expected > 0 ? gap.events / gap.expected : null)})`}`;

function Gaps({ gaps }: { gaps: Gap[] }) {
    const choose = useChoose();

    return (
        <section aria-label="Stretches with too few events">
            <h2 className="mb-1 font-semibold">Stretches with too few events</h2>
            <ol className="border-y border-line bg-leaf">
                {gaps.map((gap, i) => (
                    <li
                        key={`${gap.words} ${i}`}
                        className="flex flex-wrap items-baseline gap-x-4 border-b border-line px-3 py-1.5 last:border-b-0"
                    >
                        <span className="w-6 font-semibold text-broken">{i + 1}</span>
                        <span className="min-w-0 flex-1 basis-60">{gapWords(gap)}</span>
                        <button
                            type="button"
                            className="text-accent underline underline-offset-4"
                            onClick={() => choose({ since: gap.since, until: gap.until })}
                        >
                            Look at it
                        </button>
                    </li>
                ))}
            </ol>
        </section>
    );
}

const later = (at: string, hours: number): string => new Date(Date.parse(at) + 3_600_000 * hours).toISOString().replace('.000Z', 'Z');

function Hours({ volume }: { volume: Volume }) {
    const [params] = useSearchParams();
    const isOfSegment = params.has('dimension');
    const columns: Column<Row>[] = [
        { key: 'at', head: 'From', cell: (row) => <Moment at={row.at} />, sort: (row) => row.at },
        {
            key: 'events',
            head: 'Events',
            numeric: true,
            cell: (row) =>
                isOfSegment ? (
                    count(row.events)
                ) : (
                    <NumberLink behind="events" stretch={{ since: row.at, until: later(row.at, volume.step_hours) }}>
                        {count(row.events)}
                    </NumberLink>
                ),
            sort: (row) => row.events,
        },
        {
            key: 'expected',
            head: 'Expected',
            numeric: true,
            cell: (row) => (row.expected === null ? '–' : row.expected.toFixed(1)),
            sort: (row) => row.expected,
        },
        {
            key: 'part',
            head: 'of that',
            numeric: true,
            cell: (row) => percent(row.expected ? row.events / row.expected : null, 0),
            sort: (row) => (row.expected ? row.events / row.expected : null),
        },
    ];

    return <Table label="Hours" columns={columns} rows={volume.rows} rowKey={(row) => row.at} />;
}
