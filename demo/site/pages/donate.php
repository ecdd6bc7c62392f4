<?php /** @var string $payOrigin @var callable $e */ ?>
<h1>Keep an instrument playing</h1>
<p class="lead">Twenty buys a set of strings. Eighty buys a bow its hair for two years.</p>
<form action="<?= $e($payOrigin) ?>/give" id="gift">
    <label>Amount <select name="amount" id="amount"><option>20</option><option>40</option><option>80</option></select></label>
    <input type="hidden" name="visitor" id="visitor">
    <button class="button" id="give">Give</button>
    <p class="note">The payment is taken on another site, which hands you back a number.</p>
</form>
<script>pellix('visitor', function (id) { document.getElementById('visitor').value = id })</script>
<?php return 'Donate';
