package plenzo.store;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import plenzo.core.version.Version;
import plenzo.packages.PackageDesk;
import plenzo.packages.PackageFile;
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
    Path file = files.path(name);
    try {
      Private.folders(file.getParent());
      Files.deleteIfExists(file);
    } catch (IOException e) {
      throw new UncheckedIOException("The package " + name + " cannot be written", e);
    }
    PackageFile.Checked written =
        PackageFile.write(file, application, version, service, keys, source);
    try {
      Private.only(file);
    } catch (IOException e) {
      throw new UncheckedIOException("The package " + name + " cannot be closed to others", e);
    }
    return written;
  }

  @Override
  public PackageFile.Checked read(String name, PackageFile.Sink sink) {
    return PackageFile.read(files.path(name), sink);
  }
}
