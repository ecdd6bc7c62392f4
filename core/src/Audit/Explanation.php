<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

/** What a check looks for, how it decides, by what source, and what makes it fire though nothing is wrong. docs/audit.md says the same. */
final readonly class Explanation
{
    /** @param string $smallest the smallest fault that nine of ten logs of 10,000 visitors showed, as `bin/pellix bench audit power` measured it; '' where none was planted */
    private function __construct(public string $what, public string $test, public string $source, public string $falsely, public string $smallest)
    {
    }

    public static function of(AuditCode $code): self
    {
        return new self(...match ($code) {
            AuditCode::SrmOverall => [
                'Distinct visitors at their first exposure, each epoch against its own weights, and all epochs together.',
                'Pearson’s chi-square, exact where an expected count is under 5; epochs by summing statistics and degrees of freedom; alarm under --alpha (0.001), an epoch by itself under alpha over their number. Blocker.',
                'NIST/SEMATECH e-Handbook 1.3.5.15; Kohavi, Tang, Xu 2020, ch. 21',
                'The weights in the file are not those that were published; the log holds a part of the visitors that was chosen by variant.',
                'lose:variant=short:strength=0.16',
            ],
            AuditCode::SrmSequential => [
                'The same for whoever looks every day, with the day of the first alarm.',
                'Anytime-valid multinomial test: Bayes factor against a Dirichlet prior (declared in the report), looked at after each day; alarm when it exceeds 1/alpha. Blocker.',
                'Lindon, Malek 2020; Ville’s inequality',
                'As srm.overall.',
                'lose:variant=short:strength=0.16',
            ],
            AuditCode::SrmSegment => [
                'Whose split is off: device, browser, source, country, page, host, new or returning, pairs of these, day, weekday, hour; the smallest set without which the rest is balanced.',
                'Chi-square of each segment of 30 visitors and more, adjusted over all (q under alpha); a segment explains the mismatch when its G² exceeds that of everybody by 12 (6 more for each further dimension) and the rest has p over 0.01. Where none explains it, hours of the day and days of the week are tried in the same way. Blocker where all are off or 1 % of all visitors are missing, else warning.',
                'Benjamini, Hochberg 1995',
                'A segment that the variant itself decides, such as the page it leads to.',
                'lose:variant=short:browser=safari:strength=0.4',
            ],
            AuditCode::SrmStage => [
                'The first stage (assigned, exposed, page view after, second event after, page of the goal) at which the ratio breaks.',
                'As srm.overall at alpha/5; after the exposure at alpha/50 and only from 8 % of a variant’s visitors on. Warning.',
                'as srm.overall; 8 %: common practice, no source',
                'A variant that people leave: later stages are partly its effect.',
                'lose-after:variant=short:strength=0.3',
            ],
            AuditCode::SrmOnset => [
                'Since when (and until when) the split is off.',
                'Stretch of hours with the largest likelihood ratio G² against the weights; an end within the log has to earn 10; its p is multiplied by the places it could begin at. Warning.',
                'likelihood ratio (Wilks 1938), Bonferroni over places',
                'Few visitors in the first hours.',
                'lose:variant=short:since=14:strength=0.3',
            ],
            AuditCode::AssignMismatch => [
                'The recorded variant is not the one that the assignment gives, now or in an earlier epoch.',
                'Recomputed for each visitor. Blocker over 0.5 % of them, else warning.',
                'the assignment of docs/formats.md; 0.5 %: common practice, no source',
                'Another salt, or visitors assigned elsewhere (say so: "assignment": "elsewhere").',
                'wrong-variant:strength=0.003',
            ],
            AuditCode::AssignSwitched => [
                'One unit in several variants (stopped ones whose visitors are moved are excused).',
                'From 0.1 % and 3 units on; warning from 1 %.',
                'common practice, no source',
                'Shared devices.',
                'switch:strength=0.004',
            ],
            AuditCode::AssignUnknown => [
                'Exposures to a variant that nobody declared.',
                'Any; warning from 0.2 %.',
                'common practice, no source',
                'A variant that was taken out of the file.',
                'unknown-variant:strength=0.003',
            ],
            AuditCode::AssignOutside => [
                'Exposures off the pages, off the audience, outside the run, beyond the share.',
                'From 0.3 % and 5 units on, each reason by itself; warning from 1 %.',
                'common practice, no source',
                'Rules or times in the file that are not those that were published.',
                'outside-share:strength=0.03',
            ],
            AuditCode::AssignUserSplit => [
                'One user, several visitor ids, different variants.',
                'From 3 % of the signed-in and 5 users on; warning from 15 %.',
                'common practice, no source',
                'People with several devices.',
                'user-split:strength=0.1',
            ],
            AuditCode::AssignDependent => [
                'Another experiment of the log is not independent of this one, and in which cells.',
                'Chi-square of independence under alpha/20 over the number of experiments; smallest expected count 5. Warning.',
                'Pearson 1900; residuals: Haberman 1973',
                'Experiments of which one follows from the other.',
                'dependent:variant=short:strength=0.2',
            ],
            AuditCode::AssignShortMemory => [
                'Users who come back with a new visitor id after lifetime_days.',
                'From 3 % of the signed-in and 5 users on; warning from 10 %.',
                'common practice, no source',
                'People with several devices.',
                'short-memory:strength=0.1',
            ],
            AuditCode::ExposureMissing => [
                'Visitors of a page of the experiment who should have been in, without an exposure; whether evenly, whom and since when.',
                'Uneven by chi-square under alpha/5: warning. Even: note from 5 %, warning from 10 %, in a segment or a stretch of time, too.',
                'Pearson 1900; 5 and 10 %: common practice, no source',
                'A share or audience that is not the published one.',
                'lose-exposures:variant=short:strength=0.03',
            ],
            AuditCode::ExposureLate => [
                'A goal reached after a page of the experiment was seen, but before the first exposure.',
                'From 1 % of those who reached it and 5 visitors on; warning from 3 %.',
                'common practice, no source',
                'An experiment that starts late on purpose.',
                'late-exposure:strength=0.03',
            ],
            AuditCode::ExposureWithoutPage => [
                'Exposures without a view of that page in the session.',
                'Note from 5 %, warning from 10 %.',
                'common practice, no source',
                'Single-page sites that send no page views.',
                'no-page:strength=0.08',
            ],
            AuditCode::GoalSilent => [
                'A variant of which nobody reaches a goal that the others reach.',
                'Exact: P(none of so many) given how many reached it in all (hypergeometric), under alpha over goals and variants. Blocker.',
                'Fisher 1935',
                'A variant that takes the goal away on purpose.',
                'silent-goal:variant=short:strength=1',
            ],
            AuditCode::GoalDropped => [
                'A goal that is reached less often from a moment on, in all or one variant, in a segment.',
                'Binomial likelihood ratio of the newly exposed who reach it within 6 hours, p times all stretches, segments, variants and goals under alpha, the rate at most 0.7 of before; variance taken 1.5 times. Warning.',
                'Wilks 1938; 0.7 and 1.5: common practice, no source',
                'Other people come: a campaign.',
                'drop-goal:since=14:strength=0.5',
            ],
            AuditCode::GoalDuplicate => [
                'The same hit again within 10 s, or by loading the page again.',
                'Note from 5 % of the hits, warning from 10 % or where every hit counts.',
                'common practice, no source',
                'Pages that people load again for a reason.',
                'double-goal:strength=0.06',
            ],
            AuditCode::GoalNoValue => [
                'Hits without the value that they should have.',
                'From 1 % and 3 hits on; warning from 3 %.',
                'common practice, no source',
                'Orders of nothing.',
                'no-value:strength=0.015',
            ],
            AuditCode::GoalNever => [
                'A goal that nobody reaches.',
                '500 exposed (for a note 100). Warning for the primary goal.',
                '0.99^500 = 0.7 %',
                'Goals that hardly anybody reaches.',
                'never-goal:strength=1',
            ],
            AuditCode::OrderDuplicate => [
                'An order number in several events.',
                'From 1 % and 3 events on; warning from 3 %.',
                'common practice, no source',
                'Numbers that begin anew each day.',
                'double-order:strength=0.02',
            ],
            AuditCode::OrderOutlier => [
                'Orders that make a good part of a variant’s sum by themselves; the mean with and without.',
                '4.5 MADs above the median of the logarithms, at most 1 % of the orders, 3 times the next one, 10 % of the sum. Warning.',
                'Hampel 1974; limits: common practice, no source',
                'Sites that sell to resellers.',
                'huge-order:variant=short:strength=200',
            ],
            AuditCode::OrderCurrency => [
                'Orders in another currency than the goal’s (or most), or in none.',
                'From 0.5 % and 3 orders on; warning from 2 %.',
                'common practice, no source',
                'Shops in several countries.',
                'currency:strength=0.01',
            ],
            AuditCode::OrderShape => [
                'Texts, decimal commas, cents among units.',
                'From 1 % and 5 orders on, warning from 3 %; cents: two modes 10^1.75 to 10^2.25 apart with a valley under 0.35 of the lower one.',
                'common practice, no source',
                'Two kinds of orders that differ a hundredfold.',
                'cents:strength=0.1',
            ],
            AuditCode::GapSilence => [
                'No events of a kind (all, an event, a host, a browser, a device, a variant, two of them) for so long.',
                'Everything against its own rhythm of the week by medians, each part against the rest of the traffic in the same hours; visits negative binomial with the dispersion that the log has. p under 1e-6, and under 0.002 with all parts and stretches. Warning.',
                'Cameron, Trivedi 2013; Feller 1968, XII.2',
                'A holiday; an event that is taken out on purpose.',
                'silence:since=14.5:until=14.625:strength=1',
            ],
            AuditCode::GapDrop => [
                'Fewer events than expected for hours.',
                'The same; at least 2 hours, 25 events, at most 0.7 of what was expected; its ends are those of the likeliest stretch of that depth; p under 1e-4 with all parts and stretches. Warning.',
                'as gap.silence',
                'As gap.silence.',
                'drop:since=14.4:until=14.8:strength=0.8',
            ],
            AuditCode::GapPage => [
                'A page, or what was sent from it, that is silent while the others go on.',
                'As gap.silence. Warning.',
                'as gap.silence',
                'A page that was taken away on purpose.',
                'silence:page=/catalogue/fennick-cello:since=20:strength=1',
            ],
            AuditCode::GapStale => [
                'Nothing since a moment, up to --until.',
                'As gap.silence, p under 1e-6. Warning.',
                'as gap.silence',
                'A holiday.',
                'silence:since=27.75:strength=1',
            ],
            AuditCode::GapLate => [
                'Events received more than 10 minutes after they happened; quantiles.',
                'Note from 5 %, in a part of the events or a stretch of time, too; warning from 15 %.',
                'common practice, no source',
                'Devices that are often offline.',
                'late:strength=0.05',
            ],
            AuditCode::GapClock => [
                'Clocks that are off by over a minute (ahead), or 10 minutes (behind): all events of a visitor alike.',
                'Note from 2 % of the visitors and 10 on, warning from 5 %.',
                'common practice, no source',
                'Queues that send each event after the same time.',
                'clock:strength=0.04',
            ],
            AuditCode::EventDuplicate => [
                'Events whose id came before; ids that several visitors share.',
                'Note from 2 % (shared: 0.1 %), warning from 10 % (2 %).',
                'common practice, no source',
                'Exports that overlap.',
                'copies:strength=0.02',
            ],
            AuditCode::EventDouble => [
                'The same event of the same visitor on the same page within 500 ms.',
                'Note from 2 % of the events of a name, warning from 5 %.',
                'common practice, no source',
                'Events that do happen that fast, such as keys.',
                'double:strength=0.04',
            ],
            AuditCode::EventOffPlan => [
                'Events that the tracking plan does not know so.',
                'From 1 % of a name and 5 events on. Note.',
                'docs/formats.md',
                'A plan that is behind the site.',
                'off-plan:strength=0.02',
            ],
            AuditCode::EventBot => [
                'Programs among the exposed, by their agent, or over 40 page views a minute or 60 events in ten seconds; the ratio with and without.',
                'Warning where they are uneven (p under 1e-4) or removing them mends the ratio; note from 5 %.',
                'common practice, no source',
                'Monitors of one’s own.',
                'bots:variant=short:strength=0.04',
            ],
            AuditCode::ExclusionUneven => [
                'An exclusion that takes more of one variant than of another.',
                'Who was left out against who was kept, by variant: Fisher’s exact test for two variants, chi-square for more, at alpha over the number of exclusions. Warning.',
                'R. A. Fisher 1935; Bonferroni over exclusions',
                'A fault of one variant that the exclusion takes away rightly: then the mismatch goes with it.',
                '',
            ],
            AuditCode::EventInternal => [
                'Own people, by the rule or ids of the experiment file, or props.internal.',
                'Note from 0.5 % of the exposed, warning from 3 %.',
                'common practice, no source',
                'A rule that is too wide.',
                'internal:strength=0.01',
            ],
            AuditCode::EventReferral => [
                'Views that say that the visitor came from a payment or sister host.',
                'Note from 0.5 for each 100 sessions, warning from 10.',
                'common practice, no source',
                'A partner from whom people do come in the middle of a visit.',
                'referral:strength=0.1',
            ],
            AuditCode::EventPersonal => [
                'E-mail addresses and telephone numbers in addresses and properties. They are not repeated.',
                'Any. Note.',
                'RFC 5322, 3.4.1; E.164',
                'Addresses that are the site’s own.',
                'personal:strength=0.001',
            ],
            AuditCode::EventOrder => [
                'Exposures whose time lies after what followed from them.',
                'From 1 % of the exposed and 10 on; warning from 5 %.',
                'common practice, no source',
                'Receipt in another order than sending.',
                'disorder:strength=0.015',
            ],
            AuditCode::EpochWeights => [
                'Weights that were changed, where adding up says something else than comparing within each epoch.',
                'Mantel–Haenszel against pooled: note from 1 standard error apart, warning from 1.96.',
                'Simpson 1951; Sato 1989',
                '–',
                'season:since=14:strength=0.4',
            ],
            AuditCode::EpochGoal => [
                'A goal whose rule was changed during the run (goal_changes), with both rates.',
                'Declared. Warning for the primary goal.',
                '–',
                '–',
                'goal-changed:since=14:strength=1',
            ],
            AuditCode::RunShort => [
                'Less than a week, or less than planned_days when it has ended.',
                'Warning when it has ended, else note.',
                'common practice, no source',
                'The log holds a part only.',
                'by its length alone',
            ],
            AuditCode::RunWeek => [
                'An end within a week, up to four weeks; also where nobody has said when it ends.',
                'Note.',
                'common practice, no source',
                '–',
                'by its length alone',
            ],
            AuditCode::RunFew => [
                'The smallest loss that could have been seen is over a quarter of a variant.',
                'Note.',
                'common practice, no source',
                '–',
                'by its number of visitors alone',
            ],
        });
    }

    /** @return array{label: string, link: string, what: string, test: string, source: string, falsely: string, smallest: string} */
    public static function toArray(AuditCode $code): array
    {
        $one = self::of($code);

        return ['label' => $code->label(), 'link' => $code->link()->value, 'what' => $one->what, 'test' => $one->test, 'source' => $one->source, 'falsely' => $one->falsely, 'smallest' => $one->smallest];
    }
}
