<?php

namespace App\Http\Controllers;

use App\AuditReport\AuditPage;
use App\AuditReport\AuditTable;
use App\Audits\AuditReading;
use App\Audits\Audits;
use App\Audits\RowFinder;
use App\Http\Resources\AuditResource;
use App\Logbook\Logbook;
use App\Models\Audit;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;
use Illuminate\Validation\Rule;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Audit\Comparison;
use Pellix\Core\Audit\InvalidAudit;
use Pellix\Core\Audit\Part;
use Pellix\Core\Audit\Rows\Behind;
use Pellix\Core\Audit\Rows\Rows;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Vocabulary\Thing;

/** Audits of experiments and of logs: asked for, followed, read, talked about, and taken elsewhere. */
class AuditController extends Controller
{
    private const LISTED = 100;

    public function __construct(private readonly Audits $audits)
    {
    }

    public function index(Request $request, Site $site): AnonymousResourceCollection
    {
        $asked = $request->validate(['experiment' => ['nullable', 'string', 'max:60'], 'log' => ['nullable', 'integer'], 'newest' => ['nullable', 'boolean']]);
        $audits = $site->audits()->select(Audit::HEAD)->with('experiment')
            ->when(isset($asked['experiment']), static fn ($some) => $some->whereIn('experiment_id', $site->experiments()->where('key', $asked['experiment'])->select('id')))
            ->when((bool) ($asked['newest'] ?? false), static fn ($some) => $some->whereIn('id', Audit::query()->where('site_id', $site->id)->whereNotNull('experiment_id')->where('state', 'done')->groupBy('experiment_id')->selectRaw('max(id)')))
            ->when(isset($asked['log']), static fn ($some) => $some->where('audit_log_id', $asked['log']));

        return AuditResource::collection($audits->latest('id')->limit(self::LISTED)->get());
    }

    public function store(Request $request, Site $site): JsonResponse
    {
        $asked = $request->validate([
            'experiment' => ['required_without:log', 'nullable', 'string', 'max:60'],
            'log' => ['nullable', 'integer'],
        ], ['experiment.required_without' => 'Say what is to be audited: an experiment, or a log.']);
        $audit = isset($asked['log'])
            ? $this->audits->ofLog($site->auditLogs()->find($asked['log']) ?? throw ValidationException::withMessages(['log' => 'There is no such log.']), $request->user())
            : $this->audits->ofExperiment($site->experiments()->where('key', $asked['experiment'])->first() ?? throw ValidationException::withMessages(['experiment' => "This site has no experiment \"{$asked['experiment']}\"."]), $request->user());

        return (new AuditResource($audit))->response()->setStatusCode(202);
    }

    public function show(Request $request, Site $site, Audit $audit): JsonResponse
    {
        return self::exactly([...(new AuditResource($audit))->toArray($request), 'read' => AuditReading::of($audit, $request->boolean('whole'))]);
    }

    public function destroy(Site $site, Audit $audit): AuditResource
    {
        $this->audits->cancel($audit);

        return new AuditResource($audit->refresh());
    }

    /** A stretch of time or a segment alone, tested again: a look after the fact. */
    public function part(Request $request, Site $site, Audit $audit): JsonResponse
    {
        $asked = $request->validate(['since' => ['nullable', 'string', 'max:40'], 'until' => ['nullable', 'string', 'max:40'], 'dimension' => ['nullable', 'string', 'max:60'], 'value' => ['nullable', 'string', 'max:300']]);
        $moment = static function (string $name) use ($asked): ?int {
            $at = isset($asked[$name]) ? Moment::parse($asked[$name]) ?? throw ValidationException::withMessages([$name => 'A time in RFC 3339 is needed, such as 2026-03-02T00:00:00Z.']) : null;

            return $at === null ? null : 1000 * $at->getTimestamp();
        };
        try {
            $part = Part::of($moment('since'), $moment('until'), $asked['dimension'] ?? null, $asked['value'] ?? null);
        } catch (InvalidAudit $e) {
            throw ValidationException::withMessages([$e->field => $e->getMessage()]);
        }

        return self::exactly(AuditReading::part($audit, $part) ?? abort(409, 'What this audit counted is not kept any more: parts of it can be looked at after it was made again.'));
    }

    /** Who is behind a number; it is looked for in the background, and kept for whoever asks again. */
    public function rows(Request $request, Site $site, Audit $audit, RowFinder $finder): JsonResponse
    {
        $asked = $request->validate([
            'behind' => ['required', Rule::enum(Behind::class)], 'variant' => ['nullable', 'string', 'max:60'], 'goal' => ['nullable', 'string', 'max:60'],
            'since' => ['nullable', 'string', 'max:40'], 'until' => ['nullable', 'string', 'max:40'], 'dimension' => ['nullable', 'string', 'max:60'], 'value' => ['nullable', 'string', 'max:300'], 'whole' => ['nullable', 'boolean'],
        ], ['behind' => 'Say which number: '.implode(', ', array_column(Behind::cases(), 'value')).'.']);
        $behind = Behind::from($asked['behind']);
        $rows = $finder->ask($audit, [
            'behind' => $behind->value, 'variant' => $asked['variant'] ?? null, 'goal' => $asked['goal'] ?? null, 'since' => $asked['since'] ?? null, 'until' => $asked['until'] ?? null,
            'dimension' => $asked['dimension'] ?? null, 'value' => $asked['value'] ?? null, 'whole' => (bool) ($asked['whole'] ?? false),
        ]);

        return self::exactly(['state' => $rows->state, 'failure' => $rows->failure, 'words' => $behind->label(), 'most' => Rows::MOST, 'found' => $rows->found]);
    }

    /** Explains a finding, or declares it mended; the next audit confirms or contradicts it. */
    public function say(Request $request, Site $site, Audit $audit, Logbook $logbook): JsonResponse
    {
        $said = $request->validate([
            'identity' => ['required', 'string', 'max:300'],
            'state' => ['present', 'nullable', Rule::in(['explained', 'mended'])],
            'note' => ['required_with:state', 'nullable', 'string', 'max:1000'],
            'until' => ['nullable', 'date_format:Y-m-d', 'after:today'],
        ], [
            'note.required_with' => 'Say in a few words why, or what was done.',
            'until.after' => 'An explanation ends on a day to come.',
        ]);
        $findings = Comparison::flat(AuditReading::report($audit)['findings'] ?? []);
        isset($findings[$said['identity']]) || throw ValidationException::withMessages(['identity' => 'This audit has no such finding.']);
        AuditReading::say($audit, $said['identity'], $said['state'], $said['note'] ?? '', ($said['state'] ?? null) === 'explained' ? $said['until'] ?? null : null, $request->user()->name);
        $what = $findings[$said['identity']]['message'];
        $logbook->note($site->id, Thing::Audit, (string) $audit->id, $audit->experiment->name ?? $audit->name, $said['state'] ?? 'taken back', note: $what.($said['state'] === null ? '' : ' '.$said['note']), subject: $audit);

        return $this->show($request, $site, $audit);
    }

    public function file(Request $request, Site $site, Audit $audit, string $format): Response|JsonResponse
    {
        $isWhole = $request->boolean('whole');
        $report = AuditReading::report($audit, $isWhole) ?? abort(404, 'This audit has found nothing yet: it is not done.');
        $name = 'audit-'.($audit->experiment->key ?? 'log')."-{$audit->id}".($isWhole ? '-whole' : '');

        return match ($format) {
            'json' => response(AuditReading::json($audit, $isWhole)."\n", 200, ['Content-Type' => 'application/json', 'Content-Disposition' => "attachment; filename=\"{$name}.json\""]),
            'csv' => response(AuditTable::of($report), 200, ['Content-Type' => 'text/csv; charset=utf-8', 'Content-Disposition' => "attachment; filename=\"{$name}.csv\""]),
            default => response(AuditPage::of($report, AuditReading::views($audit, $isWhole), $site->time_zone), 200, ['Content-Type' => 'text/html; charset=utf-8', 'Content-Security-Policy' => "sandbox; default-src 'none'; img-src data:; style-src 'unsafe-inline'", 'Content-Disposition' => "inline; filename=\"{$name}.html\""]),
        };
    }

    /**
     * Numbers as the command writes them, and texts as they stand in a log.
     *
     * @param array<string, mixed> $data
     */
    private static function exactly(array $data): JsonResponse
    {
        return response()->json($data, 200, [], JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION | JSON_INVALID_UTF8_SUBSTITUTE);
    }
}
