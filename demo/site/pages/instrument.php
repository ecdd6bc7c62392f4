<?php use Demo\Library; [$name, $kind, $text, $months] = Library::INSTRUMENTS[$instrument]; ?>
<p class="note"><?= $e($kind) ?></p>
<h1 class="heading"><?= $e($name) ?></h1>
<p class="lead"><?= $e($text) ?></p>
<p><?= $months === 0 ? 'It stands on the shelf and can go home with you today.' : 'It is on loan; ask now and you are next.' ?></p>
<p><a class="button" id="borrow" href="/loan?instrument=<?= $instrument ?>">Ask for this instrument</a></p>
<?php return $name;
