"""sites with their place, strip, height limit and rules; which one a model is flown at

Nothing that stands is touched.
"""

import sqlalchemy as sa
from alembic import op

revision = '0015'
down_revision = '0014'


def upgrade() -> None:
    op.create_table(
        'site',
        sa.Column('id', sa.Uuid(), nullable=False),
        sa.Column('owner_id', sa.Uuid(), nullable=False),
        sa.Column('group_id', sa.Uuid(), nullable=True),
        sa.Column('name', sa.String(), nullable=False),
        sa.Column('latitude_deg', sa.Float(), nullable=False),
        sa.Column('longitude_deg', sa.Float(), nullable=False),
        sa.Column('elevation_m', sa.Float(), nullable=True),
        sa.Column('heading_rad', sa.Float(), nullable=True),
        sa.Column('height_limit_m', sa.Float(), nullable=True),
        sa.Column('rules', sa.String(), nullable=False),
        sa.Column('put_away_at', sa.DateTime(timezone=True), nullable=True),
        sa.Column(
            'created_at', sa.DateTime(timezone=True), server_default=sa.text('clock_timestamp()'), nullable=False
        ),
        sa.CheckConstraint('abs(latitude_deg) <= 90 AND abs(longitude_deg) <= 180', name=op.f('ck_site_place')),
        sa.ForeignKeyConstraint(['owner_id'], ['owner.id'], name=op.f('fk_site_owner_id_owner')),
        sa.ForeignKeyConstraint(['group_id'], ['pilot_group.id'], name=op.f('fk_site_group_id_pilot_group')),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_site')),
        sa.UniqueConstraint('owner_id', 'name', name=op.f('uq_site_owner_id_name')),
    )
    op.create_index(op.f('ix_site_group_id'), 'site', ['group_id'])
    op.add_column('model', sa.Column('site_id', sa.Uuid(), nullable=True))
    op.create_foreign_key(op.f('fk_model_site_id_site'), 'model', 'site', ['site_id'], ['id'])
    op.create_index(op.f('ix_model_site_id'), 'model', ['site_id'])


def downgrade() -> None:
    op.drop_index(op.f('ix_model_site_id'), 'model')
    op.drop_constraint(op.f('fk_model_site_id_site'), 'model')
    op.drop_column('model', 'site_id')
    op.drop_table('site')
