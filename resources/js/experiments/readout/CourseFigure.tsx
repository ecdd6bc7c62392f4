import { Group } from '@visx/group';
import { scaleLinear } from '@visx/scale';
import { AreaClosed, LinePath } from '@visx/shape';
import type { Experiment } from '../../api/client';
import type { Readout, ReadoutGoal } from '../../api/readout';
import { Axes } from '../../parts/charts/Axes';
import { Figure } from '../../parts/charts/Figure';
import { INK, MARGIN } from '../../parts/charts/frame';
import { count } from '../../parts/figures';
import { Table } from '../../parts/Table';
import { VARIANT_COLOURS } from '../../parts/VariantMark';
import { nameOf, short } from './GoalResults';

type Course = NonNullable<Readout['course']>;

const HEIGHT = 230;

/** How the difference came about: all up to each day, between bounds that hold at every look. */
export function CourseFigure({ course, goal, experiment }: { course: Course; goal: ReadoutGoal; experiment: Experiment }) {
    const others = goal.variants.map((one, i) => ({ key: one.key, i })).filter(({ i }) => !goal.variants[i].control);
    const last = course.days[course.days.length - 1];
    const ends = others.map(({ i }) => last?.variants[i]);
    // The first looks know next to nothing: drawn whole, their bounds would make all others look like a line.
    const most = Math.max(
        1e-9,
        ...ends.flatMap((one) =>
            one && one.low !== null && one.high !== null ? [2.5 * (one.high - one.low), 1.6 * Math.abs(one.points ?? 0)] : [],
        ),
    );
    const unit = goal.measure === 'rate' ? 100 : 1;
    const summary = others
        .map(
            ({ key, i }) =>
                `${nameOf(experiment, key)}: ${short(unit * (last?.variants[i]?.points ?? 0))}${goal.measure === 'rate' ? ' points' : ''} so far`,
        )
        .join('; ');

    return (
        <Figure
            title="Course"
            summary={`Difference from the control in “${goal.name}” of all visitors up to each day. ${summary}. The bounds hold however often one looks.`}
            table={<CourseTable course={course} goal={goal} experiment={experiment} />}
        >
            {(width) => {
                const x = scaleLinear({ domain: [0, Math.max(1, course.days.length - 1)], range: [0, width - MARGIN.left - MARGIN.right] });
                const y = scaleLinear({
                    domain: [-most * unit, most * unit],
                    range: [HEIGHT - MARGIN.top - MARGIN.bottom, 0],
                    clamp: true,
                });
                const each = Math.max(1, Math.ceil(course.days.length / 8));

                return (
                    <svg width={width} height={HEIGHT} role="img" aria-label={summary}>
                        <Group left={MARGIN.left} top={MARGIN.top}>
                            <Axes
                                x={x}
                                y={y}
                                xTicks={course.days.map((_, i) => i).filter((i) => i % each === 0)}
                                xWords={(i) => dayWords(course.days[i]?.day ?? '')}
                                yWords={(value) => short(value)}
                            />
                            <line x1={x.range()[0]} x2={x.range()[1]} y1={y(0)} y2={y(0)} stroke={INK} />
                            {others.map(({ key, i }) => {
                                const days = course.days
                                    .map((day, at) => ({ at, one: day.variants[i] }))
                                    .filter(({ one }) => one.points !== null && one.low !== null && one.high !== null);
                                const colour = VARIANT_COLOURS[i % VARIANT_COLOURS.length];

                                return (
                                    <g key={key}>
                                        <AreaClosed
                                            data={days}
                                            x={({ at }) => x(at)}
                                            y0={({ one }) => y(unit * (one.low ?? 0))}
                                            y1={({ one }) => y(unit * (one.high ?? 0))}
                                            yScale={y}
                                            fill={colour}
                                            fillOpacity={0.14}
                                            stroke={colour}
                                            strokeDasharray="3 3"
                                        />
                                        <LinePath
                                            data={days}
                                            x={({ at }) => x(at)}
                                            y={({ one }) => y(unit * (one.points ?? 0))}
                                            stroke={colour}
                                            strokeWidth={2}
                                        />
                                    </g>
                                );
                            })}
                        </Group>
                    </svg>
                );
            }}
        </Figure>
    );
}

function CourseTable({ course, goal, experiment }: { course: Course; goal: ReadoutGoal; experiment: Experiment }) {
    const rows = course.days.flatMap((day) => day.variants.map((one, i) => ({ day: day.day, key: goal.variants[i].key, ...one })));

    return (
        <Table
            label="Course day by day"
            rows={rows}
            rowKey={(row) => `${row.day} ${row.key}`}
            columns={[
                { key: 'day', head: 'Day', cell: (row) => row.day, sort: (row) => row.day },
                { key: 'variant', head: 'Variant', cell: (row) => nameOf(experiment, row.key), sort: (row) => row.key },
                { key: 'n', head: 'Visitors of the day', cell: (row) => count(row.n), numeric: true },
                { key: 'hits', head: 'Hits of the day', cell: (row) => count(row.hits), numeric: true },
                { key: 'value', head: 'Value so far', cell: (row) => short(row.value), numeric: true },
                { key: 'points', head: 'Difference so far', cell: (row) => (row.points === null ? '–' : short(row.points)), numeric: true },
                { key: 'low', head: 'From', cell: (row) => (row.points === null ? '–' : short(row.low)), numeric: true },
                { key: 'high', head: 'To', cell: (row) => (row.points === null ? '–' : short(row.high)), numeric: true },
            ]}
        />
    );
}

const dayWords = (day: string): string =>
    day === ''
        ? ''
        : new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', day: 'numeric', month: 'short' }).format(new Date(`${day}T00:00:00Z`));
