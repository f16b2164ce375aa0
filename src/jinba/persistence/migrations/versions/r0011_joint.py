"""how what is believed of a model goes together with the errors of its measures, which a next card is judged by; trims only proved

Estimates before this one did not keep it: theirs is null. Trims were flown whole.
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import ARRAY

revision = '0011'
down_revision = '0010'


def upgrade() -> None:
    op.add_column('estimate', sa.Column('errors', ARRAY(sa.Text()), nullable=True))
    op.add_column('estimate', sa.Column('joint', ARRAY(sa.Double()), nullable=True))
    op.create_check_constraint(
        'joint',
        'estimate',
        'cardinality(joint) = (cardinality(parameters) + cardinality(errors)) ^ 2 AND (joint IS NULL) = (errors IS NULL)',
    )


    op.add_column('sortie_card', sa.Column('proof', sa.Boolean(), nullable=False, server_default=sa.false()))


def downgrade() -> None:
    op.drop_column('sortie_card', 'proof')
    op.drop_constraint('joint', 'estimate')
    op.drop_column('estimate', 'joint')
    op.drop_column('estimate', 'errors')
