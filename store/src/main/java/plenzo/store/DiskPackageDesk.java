package plenzo.store;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import plenzo.core.version.Version;
import plenzo.packages.PackageDesk;
import plenzo.packages.PackageFile;
import plenzo.packages.SavedHistory;
import plenzo.packages.Signatures;

/** Packages among the files on the disk. */
public final class DiskPackageDesk implements PackageDesk {
  private final DiskFiles files;

  public DiskPackageDesk(DiskFiles files) {
    this.files = files;
  }

  @Override
  public PackageFile.Checked write(
      String name,
      PackageFile.Application application,
      Version version,
      String service,
      Signatures.Keys keys,
      PackageFile.Source source) {
    Path file = begun(name);
    PackageFile.Checked written =
        PackageFile.write(file, application, version, service, keys, source);
    close(file, name);
    return written;
  }

  @Override
  public void save(
      String name, SavedHistory.Facts facts, List<SavedHistory.Part> parts, Signatures.Keys keys) {
    Path file = begun(name);
    SavedHistory.write(file, facts, parts, keys);
    close(file, name);
  }

  private Path begun(String name) {
    Path file = files.path(name);
    try {
      Private.folders(file.getParent());
      Files.deleteIfExists(file);
    } catch (IOException e) {
      throw new UncheckedIOException("The file " + name + " cannot be written", e);
    }
    return file;
  }

  private static void close(Path file, String name) {
    try {
      Private.only(file);
    } catch (IOException e) {
      throw new UncheckedIOException("The file " + name + " cannot be closed to others", e);
    }
  }

  @Override
  public PackageFile.Checked read(String name, PackageFile.Sink sink) {
    return PackageFile.read(files.path(name), sink);
  }
}
