package plenzo.packages;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Consumer;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;

/** Writes and reads packages, streaming: memory does not grow with the contents. */
public final class PackageFile {
  /** Longest file that is read: 64 GiB (guess: far above what is promised). */
  public static final long LONGEST = 64L << 30;

  /** Longest manifest and bill of materials: 128 MiB, a hundred thousand components. */
  private static final int LONGEST_LIST = 128 << 20;

  private static final int LONGEST_ENVELOPE = 1 << 16;

  private PackageFile() {}

  /** The application that a version belongs to. */
  public record Application(String id, String name, String space) {}

  /** Where contents come from; what it opens is closed here. */
  public interface Source {
    long size(VersionEntry entry);

    InputStream open(VersionEntry entry);
  }

  /** What a package was found to be. */
  public record Checked(
      Manifest manifest, Digest manifestDigest, String signer, String signerKey) {}

  /**
   * Writes a package; the same version with the same key gives the same bytes.
   *
   * @param file must not exist; removed again when writing fails
   * @return what was written
   * @throws UncheckedIOException when it cannot be written, or a content is not as its digest says
   */
  public static Checked write(
      Path file,
      Application application,
      Version version,
      String service,
      Signatures.Keys keys,
      Source source) {
    List<Long> sizes = version.entries().stream().map(source::size).toList();
    byte[] bom = Bom.of(version, sizes);
    Manifest manifest =
        new Manifest(
            application.id(),
            application.name(),
            application.space(),
            version,
            sizes,
            plain(bom),
            bom.length);
    byte[] list = manifest.toJson().canonical().getBytes(StandardCharsets.UTF_8);
    Digest digest = plain(list);
    byte[] envelope = Envelope.of(version, digest, service, keys);
    try {
      try (ZipWriter zip = new ZipWriter(file)) {
        zip.add(Manifest.BOM, bom.length, new ByteArrayInputStream(bom));
        TreeMap<String, Integer> contents = new TreeMap<>();
        for (int n = 0; n < version.entries().size(); n++) {
          contents.putIfAbsent(version.entries().get(n).content().hex(), n);
        }
        for (int n : contents.values()) {
          VersionEntry e = version.entries().get(n);
          MessageDigest check = ContentDigest.begin(e.key().kind());
          try (InputStream in = new java.security.DigestInputStream(source.open(e), check)) {
            zip.add(Manifest.CONTENT + e.content().hex(), sizes.get(n), in);
          }
          if (!Digest.of(check).equals(e.content())) {
            throw new IOException("The stored content of " + e.key() + " is damaged");
          }
        }
        zip.add(Manifest.ENVELOPE, envelope.length, new ByteArrayInputStream(envelope));
        zip.add(Manifest.NAME, list.length, new ByteArrayInputStream(list));
        zip.finish();
      }
    } catch (IOException e) {
      remove(file);
      throw new UncheckedIOException("The package could not be written", e);
    } catch (RuntimeException e) {
      remove(file);
      throw e;
    }
    return new Checked(manifest, digest, keys.id(), keys.open());
  }

  private static void remove(Path file) {
    try {
      Files.deleteIfExists(file);
    } catch (IOException e) {
      throw new UncheckedIOException("The unfinished package " + file + " stays", e);
    }
  }

  private static Digest plain(byte[] bytes) {
    MessageDigest digest = Digest.sha256();
    digest.update(bytes);
    return Digest.of(digest);
  }

  /** Told each content once, its digest checked when it has been read to the end. */
  public interface Sink {
    void content(Kind kind, Digest digest, InputStream bytes) throws IOException;
  }

  /** Reads manifest and signature alone: what a package says it is. */
  public static Checked look(Path file) {
    try (ZipReader zip = new ZipReader(file, LONGEST)) {
      return head(zip);
    } catch (IOException e) {
      throw new UncheckedIOException("The package cannot be read", e);
    }
  }

  /**
   * Reads every byte.
   *
   * @param progress told the bytes read so far
   * @throws PackageRefused when it is no intact package; one plain sentence says why
   */
  public static Checked verify(Path file, Consumer<Long> progress) {
    byte[] buffer = new byte[1 << 18];
    long[] done = {0};
    return read(
        file,
        (kind, digest, bytes) -> {
          for (int n = bytes.read(buffer); n >= 0; n = bytes.read(buffer)) {
            done[0] += n;
            progress.accept(done[0]);
          }
        });
  }

  /**
   * Reads every content into the sink; what the sink kept counts only when this returns.
   *
   * @throws PackageRefused when it is no intact package
   */
  public static Checked read(Path file, Sink sink) {
    try (ZipReader zip = new ZipReader(file, LONGEST)) {
      Checked checked = head(zip);
      Map<Digest, Kind> kinds = new HashMap<>();
      Map<Digest, Long> sizes = new HashMap<>();
      for (int n = 0; n < checked.manifest().sizes().size(); n++) {
        VersionEntry e = checked.manifest().version().entries().get(n);
        kinds.put(e.content(), e.key().kind());
        Long old = sizes.put(e.content(), checked.manifest().sizes().get(n));
        if (old != null && !old.equals(checked.manifest().sizes().get(n))) {
          throw new PackageRefused("The manifest gives one content two sizes.");
        }
      }
      parts(zip, kinds.keySet());
      for (Map.Entry<String, ZipReader.Entry> part : zip.entries().entrySet()) {
        if (part.getKey().startsWith(Manifest.CONTENT)) {
          Digest digest = new Digest(part.getKey().substring(Manifest.CONTENT.length()));
          content(
              zip,
              part.getValue(),
              digest,
              java.util.Objects.requireNonNull(kinds.get(digest)),
              java.util.Objects.requireNonNull(sizes.get(digest)),
              sink);
        }
      }
      return checked;
    } catch (IOException e) {
      throw new UncheckedIOException("The package cannot be read", e);
    }
  }

  private static Checked head(ZipReader zip) throws IOException {
    Envelope.Said said = Envelope.read(text(zip, Manifest.ENVELOPE, LONGEST_ENVELOPE));
    String list = text(zip, Manifest.NAME, LONGEST_LIST);
    Digest digest = plain(list.getBytes(StandardCharsets.UTF_8));
    if (!digest.equals(said.manifest())) {
      throw new PackageRefused("The manifest was altered: it is not the one that was signed.");
    }
    Manifest manifest = Manifest.of(list);
    byte[] bom = zip.small(entry(zip, Manifest.BOM), LONGEST_LIST);
    if (bom.length != manifest.bomSize() || !plain(bom).equals(manifest.bom())) {
      throw new PackageRefused("The bill of materials was altered.");
    }
    return new Checked(manifest, digest, said.signer(), said.open());
  }

  private static ZipReader.Entry entry(ZipReader zip, String name) {
    ZipReader.Entry entry = zip.entries().get(name);
    if (entry == null) {
      throw new PackageRefused("The package has no \"" + name + "\".");
    }
    return entry;
  }

  private static String text(ZipReader zip, String name, int longest) throws IOException {
    byte[] bytes = zip.small(entry(zip, name), longest);
    try {
      return StandardCharsets.UTF_8.newDecoder().decode(java.nio.ByteBuffer.wrap(bytes)).toString();
    } catch (java.nio.charset.CharacterCodingException e) {
      throw new PackageRefused("The part \"" + name + "\" is no UTF-8.", e);
    }
  }

  /** Nothing is missing and nothing is there that the manifest does not name. */
  private static void parts(ZipReader zip, Set<Digest> contents) {
    Set<String> expected = new HashSet<>(List.of(Manifest.NAME, Manifest.BOM, Manifest.ENVELOPE));
    contents.forEach(c -> expected.add(Manifest.CONTENT + c.hex()));
    String before = "";
    for (String name : zip.entries().keySet()) {
      if (before.compareTo(name) >= 0) {
        throw new PackageRefused("The parts of the package are not in order.");
      }
      before = name;
      if (!expected.remove(name)) {
        throw new PackageRefused("The package has a part that it does not name: \"" + name + "\".");
      }
    }
    if (!expected.isEmpty()) {
      throw new PackageRefused(
          "The package lacks a part that it names: \""
              + new java.util.TreeSet<>(expected).first()
              + "\".");
    }
  }

  private static void content(
      ZipReader zip, ZipReader.Entry part, Digest digest, Kind kind, long size, Sink sink)
      throws IOException {
    if (part.size() != size) {
      throw new PackageRefused(
          "The part \"" + part.name() + "\" has another size than the manifest says.");
    }
    MessageDigest check = ContentDigest.begin(kind);
    try (InputStream in = new java.security.DigestInputStream(zip.open(part), check)) {
      sink.content(kind, digest, in);
      in.transferTo(java.io.OutputStream.nullOutputStream());
    }
    if (!Digest.of(check).equals(digest)) {
      throw new PackageRefused(
          "The content \"" + part.name() + "\" was altered: it is not what the manifest names.");
    }
  }
}
