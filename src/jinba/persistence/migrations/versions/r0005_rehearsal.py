"""rehearsals are models of their own

The stand-in flies only models that are marked as rehearsals: whatever it has flown so far is marked. Its twins were made for
an earlier simulation; they are drawn anew at their next flight.
"""

import sqlalchemy as sa
from alembic import op

revision = '0005'
down_revision = '0004'


def upgrade() -> None:
    op.add_column('model', sa.Column('rehearsal', sa.Boolean(), nullable=False, server_default=sa.false()))
    op.alter_column('model', 'rehearsal', server_default=None)
    op.execute('UPDATE model SET rehearsal = true WHERE id IN (SELECT model_id FROM sortie WHERE simulated)')
    op.execute('UPDATE model SET stand_in = NULL')


def downgrade() -> None:
    op.execute('UPDATE model SET stand_in = NULL')
    op.drop_column('model', 'rehearsal')
