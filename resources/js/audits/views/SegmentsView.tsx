import { Group } from '@visx/group';
import { scaleLinear } from '@visx/scale';
import { useState } from 'react';
import type { AuditViews } from '../../api/audits';
import { Figure } from '../../parts/charts/Figure';
import { BROKEN, FONT, INK, LINE } from '../../parts/charts/frame';
import { Hatch } from '../../parts/charts/Hatch';
import { Points, type Point } from '../../parts/charts/Points';
import { Readout } from '../../parts/charts/Readout';
import { count, percent, plural } from '../../parts/figures';
import { Table, type Column } from '../../parts/Table';
import type { ViewProps } from '../AuditPage';
import { NumberLink } from '../NumberLink';
import { useChoose } from '../part';

type Segments = AuditViews['segments'];
type Row = Segments['rows'][number];

const DRAWN = 16;
const BAR = 24;
const NAMES = 260;

/** Visitors that are missing of each variant, segment by segment, those first that miss most. */
export function SegmentsView({ views }: ViewProps) {
    const { segments } = views;
    if (segments.rows.length === 0) {
        return <p className="border-y border-line bg-leaf p-8 text-soft">No segment has the 30 visitors that a test needs.</p>;
    }

    return (
        <Figure title="Who is missing" summary={summary(segments)} table={<AllSegments segments={segments} />}>
            {(width) => <Bars segments={segments} width={width} />}
        </Figure>
    );
}

function summary({ variants, missing, rows, tested }: Segments): string {
    const off = rows.filter((row) => row.off);
    const worst = Math.max(...missing);
    const all = worst >= 1 ? `Of all, ${variants[missing.indexOf(worst)]} misses ${count(worst)} by the others’ counts. ` : '';

    return `${all}${plural(tested, 'segment')} tested; ${off.length === 0 ? 'none is' : `${off.length} ${off.length === 1 ? 'is' : 'are'}`} off beyond chance, with so many tests reckoned in${off.length > 0 ? `, first ${name(off[0])}` : ''}.`;
}

const name = ({ dimension, value }: Row): string => `${dimension.replace('+', ', ')} ${value.replace('+', ', ')}`;
const missed = (row: Row): number => Math.max(...row.missing);

function Bars({ segments, width }: { segments: Segments; width: number }) {
    const choose = useChoose();
    const [looked, setLooked] = useState<Point | null>(null);
    const rows = segments.rows.slice(0, DRAWN);
    const names = Math.min(NAMES, width * 0.42);
    const x = scaleLinear<number>({ domain: [0, Math.max(1, ...rows.map(missed))], range: [0, width - names - 110] });
    const points = rows.map((row, i): Point => ({
        key: `${row.dimension} ${row.value}`,
        x: names + 6,
        y: i * BAR + BAR / 2,
        words: `${name(row)}: ${row.variant} misses ${count(missed(row))} (${percent(row.part)}); ${segments.variants.map((key, v) => `${key} ${count(row.observed[v])} of ${row.expected[v].toFixed(1)}`).join(', ')}; q ${q(row.q)}${row.off ? ': off' : ''}`,
        mark: (
            <g>
                <rect y={i * BAR} width={width} height={BAR} fill="transparent" />
                <rect
                    x={names}
                    y={i * BAR + 4}
                    width={Math.max(1, x(missed(row)))}
                    height={BAR - 8}
                    fill={row.off ? BROKEN : 'url(#by-chance)'}
                    stroke={row.off ? BROKEN : '#7A7F87'}
                />
            </g>
        ),
        letters: (
            <>
                <text
                    x={names - 8}
                    y={i * BAR + BAR / 2 + 4}
                    textAnchor="end"
                    {...FONT}
                    fontSize={13}
                    fill={INK}
                    fontWeight={row.off ? 700 : 400}
                >
                    {cut(name(row), Math.floor(names / 7))}
                </text>
                <text x={names + Math.max(1, x(missed(row))) + 6} y={i * BAR + BAR / 2 + 4} {...FONT} fill={INK}>
                    {`${count(missed(row))} · ${percent(row.part)}`}
                </text>
            </>
        ),
    }));

    return (
        <>
            <svg width={width} height={rows.length * BAR + 8} role="group" aria-label="Visitors that are missing, by segment">
                <Hatch id="by-chance" colour="#B9B5A8" />
                <Group top={4}>
                    <line x1={names} x2={names} y1={0} y2={rows.length * BAR} stroke={LINE} />
                    <Points
                        label="Segments"
                        points={points}
                        onLook={setLooked}
                        onChoose={(point) => {
                            const row = rows[points.indexOf(point)] ?? rows.find((one) => `${one.dimension} ${one.value}` === point.key);
                            if (row && !['day', 'weekday', 'hour'].includes(row.dimension)) {
                                choose({ dimension: row.dimension, value: row.value });
                            }
                        }}
                    />
                </Group>
            </svg>
            <Readout
                words={looked?.words ?? null}
                hint="Filled: off beyond chance. Striped: what chance makes. Choose a segment to look at it in every view."
            />
        </>
    );
}

const cut = (text: string, most: number): string => (text.length > most ? `${text.slice(0, most - 1)}…` : text);
const q = (value: number): string => (value < 0.001 ? value.toExponential(1) : value.toFixed(3));

function AllSegments({ segments }: { segments: Segments }) {
    const choose = useChoose();
    const columns: Column<Row>[] = [
        {
            key: 'segment',
            head: 'Segment',
            wide: true,
            sort: name,
            cell: (row) =>
                ['day', 'weekday', 'hour'].includes(row.dimension) ? (
                    name(row)
                ) : (
                    <button
                        type="button"
                        className="text-left text-accent underline underline-offset-4"
                        onClick={() => choose({ dimension: row.dimension, value: row.value })}
                    >
                        {name(row)}
                    </button>
                ),
        },
        ...segments.variants.map((key, i): Column<Row> => ({
            key: `n${i}`,
            head: key,
            numeric: true,
            sort: (row) => row.observed[i],
            className: 'px-3 py-1 whitespace-nowrap',
            cell: (row) => (
                <>
                    <NumberLink behind="exposed" variant={key} segment={{ dimension: row.dimension, value: row.value }}>
                        {count(row.observed[i])}
                    </NumberLink>{' '}
                    of {row.expected[i].toFixed(1)}
                </>
            ),
        })),
        { key: 'variant', head: 'Misses most', cell: (row) => row.variant, sort: (row) => row.variant },
        { key: 'missing', head: 'Missing', numeric: true, cell: (row) => count(missed(row)), sort: missed },
        { key: 'part', head: 'of its own', numeric: true, cell: (row) => percent(row.part), sort: (row) => row.part },
        { key: 'p', head: 'p', numeric: true, cell: (row) => q(row.p), sort: (row) => row.p },
        {
            key: 'q',
            head: 'q',
            numeric: true,
            sort: (row) => row.q,
            cell: (row) => <span className={row.off ? 'font-semibold text-broken' : ''}>{q(row.q)}</span>,
        },
    ];

    return <Table label="Segments" columns={columns} rows={segments.rows} rowKey={(row) => `${row.dimension} ${row.value}`} />;
}
