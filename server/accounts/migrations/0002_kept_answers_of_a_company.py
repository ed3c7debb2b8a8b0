"""Kept answers belong to a company.

The first migration was changed after it had been applied in places: a database made before the change lacks the
column. It is added where it is missing, and filled from the person who wrote.
"""

from django.db import migrations

ADD = """
DO $$
BEGIN
    IF NOT EXISTS (
        SELECT 1 FROM information_schema.columns
        WHERE table_schema = current_schema() AND table_name = 'accounts_write' AND column_name = 'company_id'
    ) THEN
        ALTER TABLE accounts_write ADD COLUMN company_id bigint
            REFERENCES accounts_company (id) DEFERRABLE INITIALLY DEFERRED;
        UPDATE accounts_write SET company_id = accounts_user.company_id
            FROM accounts_user WHERE accounts_user.id = accounts_write.user_id;
        SET CONSTRAINTS ALL IMMEDIATE;
        ALTER TABLE accounts_write ALTER COLUMN company_id SET NOT NULL;
        CREATE INDEX accounts_write_company_id_added ON accounts_write (company_id);
    END IF;
END $$
"""


class Migration(migrations.Migration):
    dependencies = [("accounts", "0001_initial")]
    operations = [migrations.RunSQL(ADD, migrations.RunSQL.noop)]
