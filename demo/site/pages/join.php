<h1>Become a member</h1>
<p class="lead">Membership pays for strings, reeds and glue. It runs for a year and ends by itself.</p>
<form action="/join/done">
    <label>Name on the card <input name="name" autocomplete="off" required value="A. Reader"></label>
    <button class="button" id="join">Join the library</button>
</form>
<?php return 'Join';
