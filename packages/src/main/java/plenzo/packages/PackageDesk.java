package plenzo.packages;

import java.util.List;
import plenzo.core.version.Version;

/** Writes and reads packages among Plenzo's own files; names are those of {@code Files}. */
public interface PackageDesk {
  PackageFile.Checked write(
      String name,
      PackageFile.Application application,
      Version version,
      String service,
      Signatures.Keys keys,
      PackageFile.Source source);

  /** Saves a stretch of the history with what belongs to it. */
  void save(
      String name, SavedHistory.Facts facts, List<SavedHistory.Part> parts, Signatures.Keys keys);

  /**
   * Reads every byte.
   *
   * @throws PackageRefused when it is no intact package
   */
  PackageFile.Checked read(String name, PackageFile.Sink sink);
}
