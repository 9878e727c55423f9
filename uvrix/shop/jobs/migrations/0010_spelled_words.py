"""The words in use here, by which typing errors in a search are put right; they replace indexes of whole texts."""

import django.contrib.postgres.indexes
from django.db import migrations, models

FUNCTION = """
create function spelled_words() returns trigger language plpgsql as $$
begin
  insert into jobs_spelledword (word)
  select distinct word
  from regexp_split_to_table(lower(to_jsonb(new) ->> tg_argv[0]), '[^[:alpha:]]+') word
  where length(word) between 3 and 80
    and not exists (select from jobs_spelledword known where known.word = word.word);
  return null;
end
$$;
create trigger spelled_words after insert or update of complaint on jobs_job
  for each row execute function spelled_words('complaint');
create trigger spelled_words after insert or update of name on jobs_customer
  for each row execute function spelled_words('name');
"""
NO_FUNCTION = """
drop trigger spelled_words on jobs_customer;
drop trigger spelled_words on jobs_job;
drop function spelled_words();
"""
WORDS_SO_FAR = """
insert into jobs_spelledword (word)
select distinct word
from (select complaint as text from jobs_job union all select name from jobs_customer) written,
  regexp_split_to_table(lower(text), '[^[:alpha:]]+') word
where length(word) between 3 and 80;
"""


class Migration(migrations.Migration):
    dependencies = [("jobs", "0009_jobboard")]

    operations = [
        migrations.CreateModel(
            name="SpelledWord",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("word", models.CharField(db_index=True, max_length=80)),
            ],
            options={
                "indexes": [
                    django.contrib.postgres.indexes.GistIndex(
                        fields=["word"], name="word_like", opclasses=["gist_trgm_ops"]
                    )
                ],
            },
        ),
        migrations.RemoveIndex(model_name="customer", name="name_like"),
        migrations.RemoveIndex(model_name="job", name="complaint_like"),
        migrations.RunSQL(FUNCTION, NO_FUNCTION),
        migrations.RunSQL(WORDS_SO_FAR, migrations.RunSQL.noop),
    ]
