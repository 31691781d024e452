package plenzo.core.testing;

import java.nio.file.Path;

/**
 * Where tests lay databases, records and directories: in memory where {@code bin/verify} found room
 * for it (PLENZO_GROUND), since nothing that they check asks a disk to be slow; else below the
 * module's own {@code target}.
 */
public final class Ground {
  private Ground() {}

  /** The folder of that name, absolute; not made. */
  public static Path of(String name) {
    String given = System.getenv("PLENZO_GROUND");
    return Path.of(given == null || given.isBlank() ? "target" : given, name).toAbsolutePath();
  }
}
