"""how each behaviour is known, and why a stop was overridden

Seen in its band, seen outside, inferred or not known: nobody wrote it down so far, so it stays empty until it is recomputed.
"""

import sqlalchemy as sa
from alembic import op

revision = '0006'
down_revision = '0005'


def upgrade() -> None:
    op.add_column('behaviour', sa.Column('shown', sa.String(), nullable=True))
    op.create_table(
        'override',
        sa.Column('sortie_id', sa.Uuid(), nullable=False),
        sa.Column('code', sa.String(), nullable=False),
        sa.Column('words', sa.String(), nullable=False),
        sa.Column('reason', sa.String(), nullable=False),
        sa.ForeignKeyConstraint(['sortie_id'], ['sortie.id'], name='fk_override_sortie_id_sortie', ondelete='CASCADE'),
        sa.PrimaryKeyConstraint('sortie_id', 'code', name='pk_override'),
    )


def downgrade() -> None:
    op.drop_table('override')
    op.drop_column('behaviour', 'shown')
