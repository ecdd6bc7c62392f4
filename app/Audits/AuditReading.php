<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\Audit;
use Carbon\CarbonImmutable;
use Illuminate\Contracts\Database\Query\Expression;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Comparison;
use Pellix\Core\Audit\Engine;
use Pellix\Core\Audit\Explanation;
use Pellix\Core\Audit\Part;
use Pellix\Core\Audit\Report;
use Pellix\Core\Audit\Standing;
use Pellix\Core\Audit\Views\Views;
use Pellix\Core\Formats\Moment;

/** What an audit found, for whoever reads it: the report, its views, and what was said of its findings since. */
final class AuditReading
{
    /** @return array<string, mixed>|null null where it is not done */
    public static function of(Audit $audit, bool $isWhole = false): ?array
    {
        $kept = DB::table('audit_results')->where('audit_id', $audit->id)->first([self::column('report', $isWhole), self::column('views', $isWhole), DB::raw('evidence is not null as has_evidence'), DB::raw('whole_report is not null as has_whole')]);
        if ($kept === null || $audit->state !== 'done') {
            return null;
        }
        $report = (array) json_decode($kept->report, true);
        $last = $audit->since_last;

        return [
            // As objects: an empty one is no empty list.
            'report' => json_decode($kept->report),
            'views' => json_decode($kept->views),
            'excludes' => (bool) $kept->has_whole,
            'whole' => $isWhole || ! $kept->has_whole,
            'parts' => ! ($isWhole && $kept->has_whole) && $kept->has_evidence && $audit->engine === Engine::VERSION,
            'standings' => self::standings($audit, $report),
            'new' => $last['new'] ?? [],
            'mended' => $last['mended'] ?? [],
            'codes' => self::codes(),
        ];
    }

    /** The report as the command writes it; null where it is not done. */
    public static function json(Audit $audit, bool $isWhole = false): ?string
    {
        $report = $audit->state === 'done' ? DB::table('audit_results')->where('audit_id', $audit->id)->select(self::column('report', $isWhole))->first()?->report : null;

        return is_string($report) ? $report : null;
    }

    /** @return array<string, mixed>|null */
    public static function report(Audit $audit, bool $isWhole = false): ?array
    {
        $report = self::json($audit, $isWhole);

        return $report === null ? null : (array) json_decode($report, true);
    }

    /** @return array<string, mixed> its views, once it is done */
    public static function views(Audit $audit, bool $isWhole = false): array
    {
        return (array) json_decode((string) DB::table('audit_results')->where('audit_id', $audit->id)->select(self::column('views', $isWhole))->first()?->views, true);
    }

    /** @param bool $isWhole whether that is wanted which nothing was left out of; where nothing was, it is the same */
    private static function column(string $name, bool $isWhole): Expression
    {
        return DB::raw($isWhole ? "coalesce(whole_{$name}, {$name}) as {$name}" : $name);
    }

    /** @return array<string, array<string, string>> what each check is */
    public static function codes(): array
    {
        return array_combine(array_column(AuditCode::cases(), 'value'), array_map(Explanation::toArray(...), AuditCode::cases()));
    }

    /**
     * What was said of the findings of its subject, and how that stands by what this audit saw.
     *
     * @param array<mixed> $report
     *
     * @return list<array<string, mixed>>
     */
    public static function standings(Audit $audit, array $report): array
    {
        $findings = Comparison::flat(is_array($report['findings'] ?? null) ? $report['findings'] : []);
        $ms = static fn (CarbonImmutable $at): int => 1000 * $at->getTimestamp();
        $to = is_string($report['period']['to'] ?? null) ? $ms(CarbonImmutable::parse($report['period']['to'])) : $ms($audit->asked_at);
        $found = [];
        foreach (DB::table('audit_words')->where($audit->subject(), $audit->{$audit->subject()})->orderBy('id')->get() as $said) {
            $finding = $findings[$said->identity] ?? null;
            if ($finding === null) {
                continue;
            }
            $until = is_string($finding['until'] ?? null) ? $ms(CarbonImmutable::parse($finding['until'])) : null;
            $end = $said->until === null ? null : $ms(CarbonImmutable::parse($said->until, $audit->site->time_zone)->endOfDay());
            $found[$said->identity] = [
                'identity' => $said->identity, 'state' => $said->state, 'note' => $said->note, 'by' => $said->by, 'at' => Moment::format(CarbonImmutable::parse($said->at, 'UTC')), 'until' => $said->until,
                'standing' => Standing::of($said->state === 'mended' ? 'mended' : 'explained', $ms(CarbonImmutable::parse($said->at, 'UTC')), $end, $to, $until)->value,
            ];
        }

        return array_values($found);
    }

    /** Says something of a finding; an empty state takes back what was said. */
    public static function say(Audit $audit, string $identity, ?string $state, string $note, ?string $until, string $by): void
    {
        $subject = [$audit->subject() => $audit->{$audit->subject()}, 'identity' => $identity];
        DB::transaction(static function () use ($audit, $subject, $state, $note, $until, $by): void {
            DB::table('audit_words')->where($subject)->delete();
            $state === null || DB::table('audit_words')->insert([...$subject, 'site_id' => $audit->site_id, 'state' => $state, 'note' => $note, 'until' => $until, 'by' => $by, 'at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v')]);
        });
    }

    /**
     * The views of a part, and the tests made again for it.
     *
     * @return array<string, mixed>|null null where what was counted is not kept any more
     */
    public static function part(Audit $audit, Part $part): ?array
    {
        $packed = DB::table('audit_results')->where('audit_id', $audit->id)->value('evidence');
        $evidence = is_string($packed) && $audit->engine === Engine::VERSION ? KeptEvidence::unpack($packed, AuditSetup::read($audit->settings)) : null;
        if ($evidence === null) {
            return null;
        }
        $own = $part->evidence($evidence);
        $report = Report::of($own, Part::TESTED)->toArray();

        return ['verdict' => $report['verdict'], 'sentence' => $report['sentence'], 'srm' => $report['srm'], 'findings' => $report['findings'], 'variants' => $report['counts']['variants'], 'views' => Views::of($own, $part)];
    }
}
