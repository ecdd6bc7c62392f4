<?php

use App\Rehearsals\Browser\Leftovers;
use Demo\Practice\Room;
use Facebook\WebDriver\WebDriverBy;

/** @return list<int> processes of rehearsals' browsers that are there */
function browsersLeft(): array
{
    return Leftovers::processes(getenv('PELLIX_TEST_DATA').'/rehearsals');
}

it('walks a real browser through an experiment while somebody watches, and says which rule wins over its change', function () {
    $desk = $this->signIn();
    $desk->get($this->origin().'/sites/'.Room::SITE_KEY.'/bench');
    $this->press($desk, 'A colour that does not show');
    $this->press($desk, 'Rehearsal');
    $this->see($desk, 'It has not been rehearsed yet.');
    foreach (['Tablet 820 × 1180', 'Phone 390 × 844'] as $screen) {
        $desk->findElement(WebDriverBy::xpath("//label[contains(., '{$screen}')]/input"))->click();
    }
    $this->press($desk, 'Rehearse now');
    $this->see($desk, 'The snippet: an ordinary visit', 60);
    expect($this->axe($desk))->toBe([])->and(browsersLeft())->not->toBe([]);
    $this->see($desk, 'of 9 parts');
    // It goes on whether anybody looks or not.
    $desk->navigate()->refresh();
    $this->see($desk, 'One thing does not work.', 240);
    $this->see($desk, 'main p.lead in a <style> of the page');
    $this->see($desk, '!important');
    $this->see($desk, 'Goal “Chair reserved” arrives once');
    expect($this->axe($desk))->toBe([]);
    $this->press($desk, 'Open In warmer words, Desk 1280 × 800');
    $this->await($desk, fn () => $desk->executeScript('return [...document.querySelectorAll("[role=dialog] img")].some((one) => one.naturalWidth === 1280)') ?: null, 'the picture');
    $this->press($desk, 'Close');
    // What it found stands at its link.
    $this->link($desk, 'exposure');
    $this->see($desk, 'In a rehearsal: Change 1 of “warm”');
    $this->await($desk, fn () => browsersLeft() === [] ?: null, 'the browsers to be gone', 20);
});

it('can be cancelled, and leaves no browser behind', function () {
    $desk = $this->signIn();
    $desk->get($this->origin().'/sites/'.Room::SITE_KEY.'/experiments/covered/rehearsal');
    $this->press($desk, 'Rehearse now');
    $this->await($desk, fn () => browsersLeft() !== [] ?: null, 'a browser', 30);
    $this->press($desk, 'Cancel');
    $this->see($desk, 'Cancelled: what was not rehearsed is not known.');
    $this->await($desk, fn () => browsersLeft() === [] ?: null, 'the browsers to be gone', 60);
});

it('is a command, too: it names the fault, and finds none where there is none', function (string $experiment, int $exit, array $codes, string $said) {
    $junit = sys_get_temp_dir().'/rehearsed-'.getmypid().'.xml';
    $process = $this->pellix(['rehearse', $experiment, '--site='.Room::SITE_KEY, '--screen=desktop', '--json', "--junit={$junit}"], timeout: 300);
    $report = (array) json_decode($process->getOutput(), true);
    expect(array_values(array_unique(array_column(array_filter($report['findings'] ?? [['severity' => 'blocker', 'code' => $process->getErrorOutput()]], fn (array $one): bool => $one['severity'] !== 'note'), 'code'))))->toBe($codes)
        ->and($process->getExitCode())->toBe($exit)
        ->and(json_encode($report['findings'], JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES))->toContain($said)
        ->and((string) simplexml_load_file($junit)['failures'])->toBe((string) count(array_filter($report['findings'], fn (array $one): bool => $one['severity'] === 'blocker')));
    unlink($junit);
    expect((int) $this->scalar('select count(*) from events where site_id = (select id from sites where `key` = ?)', Room::SITE_KEY))->toBe(0);
})->with([
    ['sound-styled', 0, [], ''],
    ['replaced', 1, ['change.replaced'], 'put something else in the place of the element'],
    ['untagged', 1, ['goal.missing'], 'In “control” it arrives.'],
    ['lost-query', 1, ['redirect.address-lost', 'redirect.elsewhere'], '/lamplight?utm_source=pellix-rehearsal'],
]);

it('says what is wrong with what it is asked', function (array $words, string $said) {
    $process = $this->pellix(['rehearse', ...$words]);
    expect($process->getExitCode())->toBe(2)->and($process->getErrorOutput())->toContain($said);
})->with([
    [['no-such'], 'There is no experiment "no-such".'],
    [['sound', '--site=plx_nosuchsite000001'], 'No site has this key.'],
    [['sound', '--variant=cold'], 'There is no variant cold'],
    [['sound', '--screen=watch'], 'There is no screen watch'],
    [['sound', '--jsn'], 'not "--jsn"'],
    [[], 'Name one experiment'],
    [['sound', '--junit=/no/such/folder/x.xml'], '/no/such/folder/x.xml cannot be written.'],
]);
