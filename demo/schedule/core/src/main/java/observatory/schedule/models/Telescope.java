package observatory.schedule.models;

/** One of the telescopes on the hill. */
public enum Telescope {
    NORTH_DOME(40),
    SOUTH_DOME(60);

    private final int aperture; // in centimetres

    Telescope(int aperture) {
        this.aperture = aperture;
    }

    public int aperture() {
        return aperture;
    }
}
