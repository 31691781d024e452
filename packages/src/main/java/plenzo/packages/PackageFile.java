package plenzo.packages;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.history.Anchor;
import plenzo.core.json.Json;
import plenzo.core.records.RowsDigest;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;

/** Writes and reads packages, streaming: memory does not grow with the contents. */
public final class PackageFile {
  /** Longest file that is read: 64 GiB (guess: far above what is promised). */
  public static final long LONGEST = 64L << 30;

  /** Longest manifest and bill of materials: 128 MiB, a hundred thousand components. */
  private static final int LONGEST_LIST = 128 << 20;

  /** What every package has besides contents; a head that was read has found all three. */
  private static final Set<String> LISTS = Set.of(Manifest.NAME, Manifest.BOM, Manifest.ENVELOPE);

  private static final int LONGEST_ENVELOPE = 1 << 16;

  private PackageFile() {}

  /**
   * The application that a version belongs to.
   *
   * @param anchor head of its service's history, kept in the package; null for none
   */
  public record Application(String id, String name, String space, @Nullable Anchor anchor) {}

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
    Json bom = Bom.of(version, sizes);
    Measured measured = Measured.of(bom);
    Manifest manifest =
        new Manifest(
            application.id(),
            application.name(),
            application.space(),
            version,
            sizes,
            measured.digest(),
            measured.size(),
            application.anchor());
    Json list = manifest.toJson();
    Measured listed = Measured.of(list);
    byte[] envelope = Envelope.of(version, listed.digest(), service, keys);
    try {
      try (ZipWriter zip = new ZipWriter(file)) {
        zip.add(Manifest.BOM, measured.size(), bom::writeTo);
        TreeMap<String, Integer> contents = new TreeMap<>();
        for (int n = 0; n < version.entries().size(); n++) {
          contents.putIfAbsent(version.entries().get(n).content().hex(), n);
        }
        for (int n : contents.values()) {
          VersionEntry e = version.entries().get(n);
          MessageDigest check = RowsDigest.of(e.key().kind());
          try (InputStream in = new java.security.DigestInputStream(source.open(e), check)) {
            zip.add(Manifest.CONTENT + e.content().hex(), sizes.get(n), in);
          }
          if (!Digest.of(check).equals(e.content())) {
            throw new IOException("The stored content of " + e.key() + " is damaged");
          }
        }
        zip.add(Manifest.ENVELOPE, envelope.length, new ByteArrayInputStream(envelope));
        zip.add(Manifest.NAME, listed.size(), list::writeTo);
        zip.finish();
      }
    } catch (IOException e) {
      remove(file);
      throw new UncheckedIOException("The package could not be written", e);
    } catch (RuntimeException e) {
      remove(file);
      throw e;
    }
    return new Checked(manifest, listed.digest(), keys.id(), keys.open());
  }

  private static void remove(Path file) {
    try {
      Files.deleteIfExists(file);
    } catch (IOException e) {
      throw new UncheckedIOException("The unfinished package " + file + " stays", e);
    }
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
      Map<Digest, Integer> contents = contents(checked.manifest());
      parts(zip, contents.keySet());
      for (Map.Entry<String, ZipReader.Entry> part : zip.entries().entrySet()) {
        if (part.getKey().startsWith(Manifest.CONTENT)) {
          Digest digest = new Digest(part.getKey().substring(Manifest.CONTENT.length()));
          int n = Objects.requireNonNull(contents.get(digest));
          content(
              zip,
              part.getValue(),
              checked.manifest().version().entries().get(n),
              checked.manifest().sizes().get(n),
              sink);
        }
      }
      return checked;
    } catch (IOException e) {
      throw new UncheckedIOException("The package cannot be read", e);
    }
  }

  /** Each content with the place of the first component that has it. */
  private static Map<Digest, Integer> contents(Manifest m) {
    Map<Digest, Integer> out = new HashMap<>();
    for (int n = 0; n < m.sizes().size(); n++) {
      Integer first = out.putIfAbsent(m.version().entries().get(n).content(), n);
      if (first != null && !m.sizes().get(first).equals(m.sizes().get(n))) {
        throw new PackageRefused("The manifest gives one content two sizes.");
      }
    }
    return out;
  }

  private static Checked head(ZipReader zip) throws IOException {
    Envelope.Said said = Envelope.read(text(zip, Manifest.ENVELOPE, LONGEST_ENVELOPE));
    if (!measured(zip, Manifest.NAME).digest().equals(said.manifest())) {
      throw new PackageRefused("The manifest was altered: it is not the one that was signed.");
    }
    Manifest manifest;
    try (InputStream in = zip.open(entry(zip, Manifest.NAME))) {
      manifest = ManifestReader.read(in);
    } catch (CharacterCodingException e) {
      throw new PackageRefused("The part \"" + Manifest.NAME + "\" is no UTF-8.", e);
    }
    if (!Measured.of(manifest.toJson()).digest().equals(said.manifest())) {
      throw new PackageRefused("The manifest is not in its canonical form.");
    }
    if (!measured(zip, Manifest.BOM).equals(new Measured(manifest.bom(), manifest.bomSize()))) {
      throw new PackageRefused("The bill of materials was altered.");
    }
    return new Checked(manifest, said.manifest(), said.signer(), said.open());
  }

  /** Digest (plain SHA-256) and size of what is not held whole. */
  private record Measured(Digest digest, long size) {
    static Measured of(Json json) {
      Counting out = new Counting();
      try {
        json.writeTo(out);
      } catch (IOException e) {
        throw new UncheckedIOException("A digest takes everything", e);
      }
      return out.measured();
    }
  }

  private static final class Counting extends OutputStream {
    private final MessageDigest digest = Digest.sha256();
    private long size;

    @Override
    public void write(int b) {
      digest.update((byte) b);
      size++;
    }

    @Override
    public void write(byte[] from, int at, int count) {
      digest.update(from, at, count);
      size += count;
    }

    Measured measured() {
      return new Measured(Digest.of(digest), size);
    }
  }

  private static Measured measured(ZipReader zip, String name) throws IOException {
    ZipReader.Entry entry = entry(zip, name);
    if (entry.size() > LONGEST_LIST) {
      throw new PackageRefused(
          "The part \"" + name + "\" is longer than " + LONGEST_LIST + " bytes.");
    }
    Counting out = new Counting();
    try (InputStream in = zip.open(entry)) {
      in.transferTo(out);
    }
    return out.measured();
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
    } catch (CharacterCodingException e) {
      throw new PackageRefused("The part \"" + name + "\" is no UTF-8.", e);
    }
  }

  /** Nothing is missing and nothing is there that the manifest does not name. */
  private static void parts(ZipReader zip, Set<Digest> contents) {
    long found = 0;
    String before = "";
    for (String name : zip.entries().keySet()) {
      if (before.compareTo(name) >= 0) {
        throw new PackageRefused("The parts of the package are not in order.");
      }
      before = name;
      boolean content = name.startsWith(Manifest.CONTENT) && named(name, contents);
      if (!content && !LISTS.contains(name)) {
        throw new PackageRefused("The package has a part that it does not name: \"" + name + "\".");
      }
      found += content ? 1 : 0;
    }
    if (found < contents.size()) {
      String lacking =
          contents.stream()
              .map(c -> Manifest.CONTENT + c.hex())
              .filter(name -> !zip.entries().containsKey(name))
              .min(Comparator.naturalOrder())
              .orElseThrow();
      throw new PackageRefused("The package lacks a part that it names: \"" + lacking + "\".");
    }
  }

  private static boolean named(String part, Set<Digest> contents) {
    String hex = part.substring(Manifest.CONTENT.length());
    return Digest.isOne(hex) && contents.contains(new Digest(hex));
  }

  private static void content(
      ZipReader zip, ZipReader.Entry part, VersionEntry of, long size, Sink sink)
      throws IOException {
    if (part.size() != size) {
      throw new PackageRefused(
          "The part \"" + part.name() + "\" has another size than the manifest says.");
    }
    MessageDigest check = RowsDigest.of(of.key().kind());
    try (InputStream in = new java.security.DigestInputStream(zip.open(part), check)) {
      sink.content(of.key().kind(), of.content(), in);
      in.transferTo(java.io.OutputStream.nullOutputStream());
    }
    if (!Digest.of(check).equals(of.content())) {
      throw new PackageRefused(
          "The content \"" + part.name() + "\" was altered: it is not what the manifest names.");
    }
  }
}
