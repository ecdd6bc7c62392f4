<h1>Keep an instrument playing</h1>
<p class="lead">Twenty buys a set of strings. Eighty buys a bow its hair for two years.</p>
<form action="/donate/thanks">
    <label>Amount <select name="amount" id="amount"><option>20</option><option>40</option><option>80</option></select></label>
    <button class="button">Give</button>
</form>
<?php return 'Donate';
