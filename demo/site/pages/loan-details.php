<?php $step = 2; require __DIR__.'/../steps.php'; ?>
<h1 class="heading">When will you fetch it?</h1>
<form action="/loan/confirm">
    <label>Day <input type="date" name="day" required value="<?= date('Y-m-d', time() + 86400) ?>"></label>
    <label>For how long <select name="weeks"><option value="4">Four weeks</option><option value="8">Eight weeks</option></select></label>
    <button class="button" id="next">Continue with the request</button>
</form>
<?php return 'Borrow';
