"""The words of notes are among those by which typing errors in a search are put right."""

from django.db import migrations

TRIGGER = """
create trigger spelled_words after insert or update of text on record_note
  for each row execute function spelled_words('text');
"""
WORDS_SO_FAR = """
insert into jobs_spelledword (word)
select distinct word
from record_note, regexp_split_to_table(lower(text), '[^[:alpha:]]+') word
where length(word) between 3 and 80
  and not exists (select from jobs_spelledword known where known.word = word.word);
"""


class Migration(migrations.Migration):
    dependencies = [("record", "0002_search"), ("jobs", "0010_spelled_words")]

    operations = [
        migrations.RemoveIndex(model_name="note", name="text_like"),
        migrations.RunSQL(TRIGGER, "drop trigger spelled_words on record_note;"),
        migrations.RunSQL(WORDS_SO_FAR, migrations.RunSQL.noop),
    ]
