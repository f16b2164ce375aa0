"""What to fly next: programme, sortie packing, go / no-go."""
