<?php

use Facebook\WebDriver\WebDriverBy;

it('keeps what is typed without being told, goes back and forth, and begins again where it was left', function () {
    $desk = $this->signIn();
    $this->press($desk, 'Make an experiment');
    $this->fill($desk, 'Name', 'Kept by itself');
    $this->fill($desk, 'Path', '/workshops');
    $this->fill($desk, 'Elements (CSS selector)', '.lead');
    $this->fill($desk, 'New text', 'Come on Saturday.');
    $this->press($desk, 'Make the draft');
    $this->see($desk, 'Everything is kept.');
    $this->see($desk, 'No goal yet');
    $draft = $this->origin().'/sites/plx_larkhollowdemo01/experiments/kept-by-itself';

    // Unfinished: marked on the chain, listed, kept all the same, and not to be started.
    $this->link($desk, 'exposure');
    $this->see($desk, '.lead matches 1');
    $this->press($desk, 'Add a change to Variant 1');
    $this->kept($desk);
    $this->see($desk, 'Type a CSS selector, such as h1.');
    expect($desk->findElements(WebDriverBy::cssSelector("nav[aria-label='Signal chain'] [aria-label='2 missing']")))->toHaveCount(1)
        ->and($desk->findElement(WebDriverBy::xpath("//button[normalize-space()='Start']"))->isEnabled())->toBeFalse()->and($this->axe($desk))->toBe([]);
    $desk->get($draft.'/exposure');
    $this->await($desk, fn () => count($desk->findElements(WebDriverBy::cssSelector('[aria-label^="Variant 1, change"][role=group]'))) === 2 ?: null, 'both changes');
    $this->see($desk, 'Type a CSS selector, such as h1.');

    // By keyboard to another place in the order, and by the pointer.
    $this->fill($desk, 'Elements (CSS selector)', 'main h1', 1);
    $this->fill($desk, 'New text', 'Mend', 1);
    $this->press($desk, 'Make Variant 1, change 2 earlier');
    $texts = fn (): array => array_map(fn (int $i): string => (string) $this->field($desk, 'New text', $i)->getAttribute('value'), [0, 1]);
    expect($texts())->toBe(['Mend', 'Come on Saturday.']);
    $drag = 'const [from, to] = document.querySelectorAll("[draggable]"); const data = new DataTransfer(); const send = (at, type) => at.dispatchEvent(new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer: data })); send(from, "dragstart"); send(to.parentElement, "dragover"); send(to.parentElement, "drop"); send(from, "dragend"); return null';
    $desk->executeScript($drag);
    expect($texts())->toBe(['Come on Saturday.', 'Mend']);
    $this->press($desk, 'Undo');
    expect($texts())->toBe(['Mend', 'Come on Saturday.']);
    $this->press($desk, 'Redo');
    expect($texts())->toBe(['Come on Saturday.', 'Mend']);
    $this->press($desk, 'Copy this variant');
    $this->kept($desk);
    expect((int) $this->scalar('select json_length(variants) from experiments where `key` = "kept-by-itself"'))->toBe(3);
    $this->choose($desk, 'Copy Variant 2, change 1: Copy to…', 'variant-1');
    $this->kept($desk);
    expect((int) $this->scalar('select json_length(variants, "$[1].changes") from experiments where `key` = "kept-by-itself"'))->toBe(3);

    // The site's naming pattern suggests.
    $desk->get($draft);
    $this->press($desk, 'Set a pattern');
    $this->fill($desk, 'Naming pattern of the site', '{year} {name}');
    $this->press($desk, 'Keep the pattern');
    $this->see($desk, 'By that: '.date('Y').' Kept by itself');
    $this->press($desk, 'Take it');
    $this->see($desk, 'this one fits');
    $this->press($desk, 'Write it in parts');
    $this->fill($desk, 'Hypothesis: Because', 'nobody knows the day');
    $this->fill($desk, 'Hypothesis: will', 'bring more people');
    $this->kept($desk);
    expect($this->scalar('select hypothesis from experiments where `key` = "kept-by-itself"'))->toBe('Because nobody knows the day, will bring more people.');
    expect($this->axe($desk))->toBe([]);
});

it('tells two people at one draft of each other, and asks whose is kept', function () {
    $one = $this->signIn();
    $two = $this->signIn();
    $draft = $this->origin().'/sites/plx_larkhollowdemo01/experiments/workshop-invite';
    $one->get($draft);
    $two->get($draft);
    foreach ([$one, $two] as $desk) {
        $this->see($desk, 'Everything is kept.');
    }
    $this->fill($one, 'Name', 'Invite to Saturday');
    $this->kept($one);
    // The other sees it come, and goes on from there.
    $this->see($two, 'has changed this draft just now');
    expect($this->field($two, 'Name')->getAttribute('value'))->toBe('Invite to Saturday');
    // Both in the same breath: the second is asked, and loses nothing.
    $this->fill($two, 'Hypothesis', 'Written by the second.');
    $this->fill($one, 'Hypothesis', 'Written by the first.');
    $this->kept($two);
    $this->see($one, 'has changed this experiment meanwhile');
    expect($this->field($one, 'Hypothesis')->getAttribute('value'))->toBe('Written by the first.')->and($this->axe($one))->toBe([]);
    usleep(1_000_000);
    $this->press($one, 'Keep mine instead');
    $this->kept($one);
    $this->await($two, fn () => $this->field($two, 'Hypothesis')->getAttribute('value') === 'Written by the first.' ?: null, 'the text of the first');
    // And once more, giving way.
    $this->fill($two, 'Hypothesis', 'A date makes the workshop real.');
    $this->fill($one, 'Hypothesis', 'Something else.');
    $this->see($one, 'has changed this experiment meanwhile');
    usleep(1_000_000);
    $this->press($one, 'Show theirs');
    $this->await($one, fn () => $this->field($one, 'Hypothesis')->getAttribute('value') === 'A date makes the workshop real.' ?: null, 'the text of the second');
    $this->fill($one, 'Name', 'Invite to the next Saturday');
    $this->kept($one);
});

it('changes what runs on purpose, and says what follows', function () {
    $desk = $this->signIn();
    $page = $this->origin().'/sites/plx_larkhollowdemo01/experiments/donate-amounts';
    $desk->get($page.'/split');
    $this->press($desk, 'Change…');
    $this->see($desk, 'A new epoch begins: new visitors are divided by these weights.');
    $this->fill($desk, 'Weight', '70');
    expect($this->axe($desk))->toBe([]);
    $desk->findElement(WebDriverBy::cssSelector("nav[aria-label='Signal chain'] a[href$='/goals']"))->click();
    $this->see($desk, 'Leave without this change?');
    $this->press($desk, 'Leave it as it is');
    $this->press($desk, 'Put it live');
    $this->await($desk, fn () => str_contains($this->text($desk, "section[aria-label='Split']"), 'Recomputed') || ! str_contains($this->text($desk), 'Put it live') ? true : null, 'the change to be live');
    $this->see($desk, '70.0 %');
    $published = (string) file_get_contents($this->origin().'/s/plx_larkhollowdemo01.js');
    $experiment = array_column(json_decode((string) preg_replace('/\Awindow\.pellixSite=(.*?);\n.*\z/s', '$1', $published), true)['experiments'], null, 'key')['donate-amounts'];
    expect($experiment['variants'][0]['end'])->toBe(0.7);
});

it('takes an experiment over from a file, and its changes', function () {
    $desk = $this->signIn();
    $this->press($desk, 'Make an experiment');
    $file = tempnam(sys_get_temp_dir(), 'plx').'.json';
    file_put_contents($file, '{"pellix":1,"key":"from-file","salt":"s","name":"From a file","share":0.25,"labels":["loan"],"variants":[{"key":"a","weight":1},{"key":"b","weight":3,"changes":[{"kind":"hide","selector":".lead"}]}],"epochs":[{"from":"2026-03-02T00:00:00Z","share":1,"weights":{"a":1,"b":1}}],"start":"2026-03-02T00:00:00Z"}');
    $input = $this->await($desk, fn () => $desk->findElement(WebDriverBy::cssSelector('input[type=file]')), 'the field for a file');
    $input->setFileDetector(new Facebook\WebDriver\Remote\LocalFileDetector())->sendKeys($file);
    $this->see($desk, 'Everything is kept.');
    $this->see($desk, 'From a file');
    $this->link($desk, 'entry');
    expect($this->field($desk, 'Share in percent')->getAttribute('value'))->toBe('25');
    $this->link($desk, 'exposure');
    file_put_contents($file, '{"pellix":1,"changes":[{"kind":"text","selector":"h1","value":"Taken over"}]}');
    $input = $desk->findElement(WebDriverBy::cssSelector("input[type=file][aria-label='Changes of b from a file']"));
    $input->setFileDetector(new Facebook\WebDriver\Remote\LocalFileDetector())->sendKeys($file);
    $this->await($desk, fn () => $this->field($desk, 'New text')->getAttribute('value') === 'Taken over' ?: null, 'the change of the file');
    file_put_contents($file, '{"pellix":1,"changes":[{"kind":"dance"}]}');
    $input->sendKeys($file);
    $this->see($desk, 'Change 1 of the file is of no kind that Pellix knows.');
    unlink($file);
});
