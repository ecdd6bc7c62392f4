<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Models\Experiment;
use App\Models\Site;
use App\Models\User;
use App\ReadModel\Readings;
use App\ReadModel\Round;
use Carbon\CarbonImmutable;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\DueAction;
use Pellix\Core\Experiments\Stage;
use Pellix\Core\Formats\WallTime;
use Symfony\Component\HttpKernel\Exception\HttpExceptionInterface;

/** When experiments are to start and to end, by the clock of their site; and has them do so. */
final readonly class Timetable implements Round
{
    /** Nobody knows what a time that far ahead will be about. */
    private const MOST_YEARS = 5;

    public function __construct(private ExperimentLife $life, private Revisions $revisions)
    {
    }

    /**
     * Sets when it is to start and end.
     *
     * @param string|null $start    as a clock of the site shows it, `2026-03-29T02:30`; null for no time
     * @param int|null    $visitors with how many it is to end
     *
     * @return list<string> what is to be said of the times
     *
     * @throws ValidationException
     */
    public function set(Experiment $experiment, ?string $start, ?string $end, ?int $visitors, User $author): array
    {
        $now = CarbonImmutable::now('UTC');
        [$begins, $ends] = [self::read($experiment->site, 'start', $start), self::read($experiment->site, 'end', $end)];
        $stage = Stage::from($experiment->state);
        $isOpen = ! $stage->hasStarted();
        abort_if($stage->isOver(), 409, "This experiment is {$experiment->state}: its times are over.");
        $kept = $experiment->start_at;
        $startAt = $isOpen ? ($begins === null ? null : CarbonImmutable::instance($begins->moment)) : $kept;
        if ($isOpen && $startAt !== null && $startAt <= $now) {
            throw ValidationException::withMessages(['start' => 'This time is over. To start at once, press Start.']);
        }
        if ($experiment->state === 'scheduled' && $startAt === null) {
            throw ValidationException::withMessages(['start' => 'It is scheduled: say when it is to start, or take it back to a draft.']);
        }
        $endAt = $ends === null ? null : CarbonImmutable::instance($ends->moment);
        if ($endAt !== null && $endAt <= max($now, $startAt ?? $now)) {
            throw ValidationException::withMessages(['end' => $startAt !== null && $startAt >= $endAt ? 'It ends after it starts.' : 'This time is over.']);
        }
        $before = self::times($experiment);
        $experiment->update(['start_at' => $startAt, 'end_at' => $endAt, 'end_visitors' => $visitors, 'held_up' => null]);
        $this->revisions->noteFields($experiment, $author, $before, self::times($experiment));

        return array_values(array_filter([$isOpen ? $begins?->note : null, $ends?->note]));
    }

    /** Starts and ends what is due, each by itself: one that fails keeps no other. */
    public function make(Site $site): bool
    {
        $now = CarbonImmutable::now('UTC');
        $due = Experiment::query()->where('site_id', $site->id)->where(static fn ($any) => $any
            ->where(static fn ($start) => $start->where('state', 'scheduled')->where('start_at', '<=', $now->format('Y-m-d H:i:s.v')))
            ->orWhere(static fn ($end) => $end->whereIn('state', ['running', 'paused'])->where(static fn ($why) => $why->where('end_at', '<=', $now->format('Y-m-d H:i:s.v'))->orWhereNotNull('end_visitors'))))->orderBy('id')->get();
        foreach ($due as $experiment) {
            try {
                $this->act($experiment, $now);
            } catch (ValidationException|HttpExceptionInterface $e) {
                $this->holdUp($experiment, $e->getMessage());
            } catch (\Throwable $e) {
                report($e);
            }
        }

        return false;
    }

    private function act(Experiment $experiment, CarbonImmutable $now): void
    {
        $entered = $experiment->end_visitors === null ? 0 : (int) (Readings::one($experiment->site_id, 'experiment', (string) $experiment->id)['entered']['visitors'] ?? 0);
        $due = DueAction::of(Stage::from($experiment->state), $experiment->start_at, $experiment->end_at, $experiment->end_visitors, $entered, $now, new \DateTimeZone($experiment->site->time_zone));
        match ($due?->action) {
            null => null,
            'miss' => $this->holdUp($experiment, $due->words),
            default => $this->life->move($experiment, $due->action, null, note: $due->words),
        };
    }

    /** Goes back to a draft, and says why. */
    private function holdUp(Experiment $experiment, string $why): void
    {
        if ($experiment->state !== 'scheduled') {
            report(new \RuntimeException("Experiment {$experiment->key} could not end: {$why}"));

            return;
        }
        $this->life->move($experiment, 'unschedule', null, note: "It could not start at its time. {$why}");
        $experiment->refresh()->update(['held_up' => mb_substr($why, 0, 500)]);
    }

    private static function read(Site $site, string $field, ?string $text): ?WallTime
    {
        if ($text === null || $text === '') {
            return null;
        }
        $read = WallTime::read($text, new \DateTimeZone($site->time_zone)) ?? throw ValidationException::withMessages([$field => 'A date and a time are needed, such as 2026-03-29T09:30.']);

        return $read->moment < CarbonImmutable::now('UTC')->addYears(self::MOST_YEARS) ? $read : throw ValidationException::withMessages([$field => 'A time within the next '.self::MOST_YEARS.' years is needed.']);
    }

    /** @return array<string, mixed> */
    private static function times(Experiment $experiment): array
    {
        $shown = static fn (?CarbonImmutable $time): ?string => $time?->setTimezone($experiment->site->time_zone)->format('Y-m-d H:i');

        return ['start_at' => $shown($experiment->start_at), 'end_at' => $shown($experiment->end_at), 'end_visitors' => $experiment->end_visitors];
    }
}
