package plenzo.packages;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.stream.Stream;
import java.util.zip.CRC32;
import java.util.zip.Deflater;
import java.util.zip.DeflaterOutputStream;
import java.util.zip.ZipFile;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.manual.ManualStep;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowsPolicy;
import plenzo.core.table.ColumnPlaces;
import plenzo.core.table.Conversion;
import plenzo.core.version.Need;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;

/** Packages of a small version, intact and in every way broken. */
class PackageFileTest {
  private static final PackageFile.Application FARES =
      new PackageFile.Application(
          "id-1", "Fares", "fares", new plenzo.core.history.Anchor(7, "a".repeat(64)));
  private static final Signatures.Keys KEYS = Signatures.make(new SecureRandom());

  @TempDir Path folder;
  private final Map<Digest, byte[]> contents = new HashMap<>();
  private Version version;
  private int files;

  @BeforeEach
  void version() {
    List<VersionEntry> entries =
        List.of(
            entry("file/fares/a.txt", "{}\nhello\n"),
            entry("file/fares/empty.txt", "{}\n"),
            entry("form/fares.quote", "{\"format\":1}"),
            entry("records/fares.band", "code\ntext\n\"A\"\n".repeat(300)));
    List<Need> needs = List.of(Need.of("sailings >=1.8.0"), Need.of("server/host >=2.0.0"));
    List<Before> order = List.of(Before.of("form/fares.quote before file/fares/a.txt"));
    version =
        Version.of(
            "fares",
            new SemVer("2.4.0"),
            new SemVer("2.3.0"),
            entries,
            List.of(),
            needs,
            order,
            "Summer fares",
            "",
            List.of("FERRY-118", "https://tasks.example/7"),
            "ines",
            Instant.parse("2026-06-01T10:00:00Z"),
            "development/main");
  }

  /** The standard's own schema finds nothing wrong with it. */
  @Test
  void theBillOfMaterialsIsWhatTheStandardAsksFor() throws Exception {
    String bom = Bom.of(version, version.entries().stream().map(source::size).toList()).canonical();
    org.cyclonedx.parsers.JsonParser parser = new org.cyclonedx.parsers.JsonParser();

    assertThat(
            parser.validate(bom.getBytes(StandardCharsets.UTF_8), org.cyclonedx.Version.VERSION_16))
        .isEmpty();
    assertThat(
            parser.validate(
                bom.replace("\"bomFormat\"", "\"format\"").getBytes(StandardCharsets.UTF_8),
                org.cyclonedx.Version.VERSION_16))
        .as("the schema refuses what is none")
        .isNotEmpty();
  }

  private VersionEntry entry(String key, String text) {
    ComponentKey k = ComponentKey.of(key);
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    Digest digest = ContentDigest.of(k.kind(), bytes);
    contents.put(digest, bytes);
    return new VersionEntry(k, "uid-" + key, digest, null, 0, "development/main");
  }

  private final PackageFile.Source source =
      new PackageFile.Source() {
        @Override
        public long size(VersionEntry entry) {
          return bytes(entry).length;
        }

        @Override
        public InputStream open(VersionEntry entry) {
          return new ByteArrayInputStream(bytes(entry));
        }

        private byte[] bytes(VersionEntry entry) {
          return java.util.Objects.requireNonNull(contents.get(entry.content()));
        }
      };

  private Path file() {
    return folder.resolve("p" + files++ + ".zip");
  }

  private Path written(Signatures.Keys keys) {
    Path file = file();
    PackageFile.write(file, FARES, version, "service-1", keys, source);
    return file;
  }

  private Path file(byte[] bytes) {
    try {
      return Files.write(file(), bytes);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static void refused(Path file, String sentence) {
    assertThatThrownBy(() -> PackageFile.verify(file, n -> {}))
        .isInstanceOf(PackageRefused.class)
        .hasMessageContaining(sentence);
  }

  @Test
  void givesTheSameFileForTheSameVersionAndKeyAndReadsItBack() throws IOException {
    Path one = written(KEYS);
    Path two = written(KEYS);
    assertThat(Files.readAllBytes(one)).isEqualTo(Files.readAllBytes(two));
    Signatures.Keys other = Signatures.make(new SecureRandom());
    PackageFile.Checked signedByOther = PackageFile.verify(written(other), n -> {});

    PackageFile.Checked checked = PackageFile.verify(one, n -> {});

    assertThat(checked.manifest().version()).isEqualTo(version);
    assertThat(checked.manifest().fileName()).isEqualTo("fares-2.4.0.zip");
    assertThat(checked.signer()).isEqualTo(KEYS.id());
    assertThat(signedByOther.manifestDigest()).isEqualTo(checked.manifestDigest());
    assertThat(signedByOther.signer()).isEqualTo(other.id());
    try (ZipFile zip = new ZipFile(one.toFile())) { // any tool reads it
      assertThat(zip.stream().map(java.util.zip.ZipEntry::getName)).isSorted().hasSize(7);
    }
  }

  @Test
  void leavesNothingBehindWhenAContentIsDamaged() throws IOException {
    contents.replaceAll((digest, bytes) -> bytes.length > 100 ? new byte[bytes.length] : bytes);
    Path file = file();
    assertThatThrownBy(() -> PackageFile.write(file, FARES, version, "service-1", KEYS, source))
        .isInstanceOf(UncheckedIOException.class)
        .hasStackTraceContaining("records/fares.band is damaged");
    assertThat(file).doesNotExist();
  }

  /** An entry of a package that is put together by hand. */
  private record Part(
      String name, byte[] bytes, int method, int external, int flags, @Nullable Long lies) {
    static Part of(String name, byte[] bytes) {
      return new Part(name, bytes, 0, 0, Zip.FLAGS, null);
    }
  }

  private List<Part> parts() throws IOException {
    List<Part> out = new ArrayList<>();
    try (ZipFile zip = new ZipFile(written(KEYS).toFile())) {
      for (var e : zip.stream().toList()) {
        out.add(Part.of(e.getName(), zip.getInputStream(e).readAllBytes()));
      }
    }
    return out;
  }

  private static byte[] deflated(byte[] bytes) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (DeflaterOutputStream d =
        new DeflaterOutputStream(out, new Deflater(9, /* nowrap= */ true))) {
      d.write(bytes);
    }
    return out.toByteArray();
  }

  private static byte[] zip(List<Part> parts) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    ByteArrayOutputStream directory = new ByteArrayOutputStream();
    for (Part p : parts) {
      byte[] name = p.name().getBytes(StandardCharsets.UTF_8);
      byte[] packed = p.method() == 8 ? deflated(p.bytes()) : p.bytes();
      CRC32 crc = new CRC32();
      crc.update(p.bytes());
      long size = p.lies() == null ? p.bytes().length : p.lies();
      int offset = out.size();
      ByteBuffer local = ByteBuffer.allocate(30 + name.length).order(ByteOrder.LITTLE_ENDIAN);
      local.putInt(Zip.LOCAL).putShort((short) 45).putShort((short) p.flags());
      local.putShort((short) p.method()).putShort((short) 0).putShort((short) Zip.DATE);
      local.putInt((int) crc.getValue()).putInt(packed.length).putInt((int) size);
      local.putShort((short) name.length).putShort((short) 0).put(name);
      out.write(local.array());
      out.write(packed);
      ByteBuffer c = ByteBuffer.allocate(46 + name.length).order(ByteOrder.LITTLE_ENDIAN);
      c.putInt(Zip.CENTRAL).putShort((short) 45).putShort((short) 45);
      c.putShort((short) p.flags()).putShort((short) p.method());
      c.putShort((short) 0).putShort((short) Zip.DATE).putInt((int) crc.getValue());
      c.putInt(packed.length).putInt((int) size).putShort((short) name.length);
      c.putShort((short) 0).putShort((short) 0).putShort((short) 0).putShort((short) 0);
      c.putInt(p.external()).putInt(offset).put(name);
      directory.write(c.array());
    }
    int start = out.size();
    out.write(directory.toByteArray());
    ByteBuffer end = ByteBuffer.allocate(22).order(ByteOrder.LITTLE_ENDIAN);
    end.putInt(Zip.END).putInt(0).putShort((short) parts.size()).putShort((short) parts.size());
    end.putInt(directory.size()).putInt(start).putShort((short) 0);
    out.write(end.array());
    return out.toByteArray();
  }

  @Test
  void takesDeflatedPartsToo() throws IOException {
    List<Part> parts = new ArrayList<>(parts());
    parts.replaceAll(p -> new Part(p.name(), p.bytes(), 8, 0, Zip.FLAGS, null));
    assertThat(PackageFile.verify(file(zip(parts)), n -> {}).manifest().version())
        .isEqualTo(version);
  }

  @Test
  void refusesWhatWasAlteredSwappedDroppedOrAdded() throws IOException {
    List<Part> parts = parts();
    assertThat(PackageFile.verify(file(zip(parts)), n -> {}).signer()).isEqualTo(KEYS.id());

    List<Part> altered = new ArrayList<>(parts);
    altered.replaceAll(
        p ->
            p.name().startsWith("content/") && p.bytes().length > 100
                ? Part.of(
                    p.name(),
                    new String(p.bytes(), StandardCharsets.UTF_8)
                        .replace("A", "B")
                        .getBytes(StandardCharsets.UTF_8))
                : p);
    refused(file(zip(altered)), "was altered: it is not what the manifest names");

    List<Part> title = new ArrayList<>(parts);
    title.replaceAll(
        p ->
            p.name().equals("manifest.json")
                ? Part.of(
                    p.name(),
                    new String(p.bytes(), StandardCharsets.UTF_8)
                        .replace("Summer", "Winter")
                        .getBytes(StandardCharsets.UTF_8))
                : p);
    refused(file(zip(title)), "The manifest was altered");

    List<Part> signed = new ArrayList<>(parts);
    signed.replaceAll(
        p ->
            p.name().equals("envelope.json")
                ? Part.of(
                    p.name(),
                    new String(p.bytes(), StandardCharsets.UTF_8)
                        .replace("\"sig\":\"", "\"sig\":\"A")
                        .replaceFirst(".\"\\}\\]\\}$", "\"}]}")
                        .getBytes(StandardCharsets.UTF_8))
                : p);
    refused(file(zip(signed)), "signature");

    List<Part> swapped = new ArrayList<>(parts);
    swapped.set(1, Part.of(parts.get(1).name(), parts.get(2).bytes()));
    swapped.set(2, Part.of(parts.get(2).name(), parts.get(1).bytes()));
    assertThatThrownBy(() -> PackageFile.verify(file(zip(swapped)), n -> {}))
        .isInstanceOf(PackageRefused.class);

    List<Part> dropped = new ArrayList<>(parts);
    dropped.remove(1);
    refused(file(zip(dropped)), "lacks a part that it names");

    List<Part> added = new ArrayList<>(parts);
    added.add(Part.of("notes.txt", new byte[3]));
    refused(file(zip(added)), "a part that it does not name: \"notes.txt\"");
    List<Part> bom = new ArrayList<>(parts);
    bom.replaceAll(
        p -> p.name().equals("bom.json") ? Part.of("bom.json", new byte[] {'{', '}'}) : p);
    refused(file(zip(bom)), "bill of materials was altered");
  }

  @Test
  void refusesEveryHostileForm() throws IOException {
    List<Part> parts = parts();
    byte[] good = zip(parts);

    refused(file(with(parts, Part.of("../evil", new byte[1]))), "\"../evil\" is refused");
    refused(file(with(parts, Part.of("/etc/passwd", new byte[1]))), "it is not relative");
    refused(file(with(parts, Part.of("a\\b", new byte[1]))), "backslash");
    refused(file(with(parts, Part.of("x/", new byte[0]))), "an empty part");
    refused(
        file(with(parts, new Part("link", new byte[1], 0, 0xa1ff << 16, Zip.FLAGS, null))),
        "is a link");
    refused(
        file(with(parts, new Part("x", new byte[1], 0, 0, Zip.FLAGS | 1, null))), "is encrypted");
    refused(
        file(with(parts, new Part("x", new byte[1], 0, 0, Zip.FLAGS | 8, null))),
        "a form that packages do not have");
    refused(
        file(with(parts, new Part("x", new byte[1], 12, 0, Zip.FLAGS, null))), "unknown method");
    refused(file(with(parts, parts.get(0))), "two entries named");
    refused(file(with(parts, Part.of("BOM.json", new byte[1]))), "upper and lower case only");

    refused(file(concat(new byte[] {1}, good)), "does not lie right before its end");
    refused(file(concat(good, new byte[] {1})), "bytes after its end");
    for (int cut = 0; cut < good.length; cut += 7) {
      Path file = file(java.util.Arrays.copyOf(good, cut));
      assertThatThrownBy(() -> PackageFile.verify(file, n -> {}))
          .isInstanceOf(PackageRefused.class);
    }
    String manifest = new String(parts.get(6).bytes(), StandardCharsets.UTF_8);
    refused(
        resigned(
            parts,
            manifest
                .replace("\"format\":2,\"history\"", "\"format\":6,\"history\"")
                .replace("form/fares.quote", "sort-to-come/fares.quote")),
        "has format 6; this Plenzo reads formats up to 5");
    refused(resigned(parts, manifest + "\n"), "not in its canonical form");
    refused(
        resigned(parts, manifest.replace("records/fares.band", "file/fares/a.txt")),
        "not in order");
    refused(resigned(parts, manifest.replace("\"uid\":", "\"id\":")), "Expected text at \"/uid\"");
    refused(
        resigned(parts, manifest.replace("uid-form", "uid-from")), "not that of its components");
  }

  /** With another manifest, rightly signed. */
  private static int at(List<Part> parts, String name) {
    return parts.stream().map(Part::name).toList().indexOf(name);
  }

  private Path resigned(List<Part> parts, String manifest) throws IOException {
    byte[] list = manifest.getBytes(StandardCharsets.UTF_8);
    List<Part> all = new ArrayList<>(parts);
    all.set(
        at(parts, "envelope.json"),
        Part.of("envelope.json", Envelope.of(version, digest(list), "service-1", KEYS)));
    all.set(at(parts, "manifest.json"), Part.of("manifest.json", list));
    return file(zip(all));
  }

  private static Digest digest(byte[] bytes) {
    var d = Digest.sha256();
    d.update(bytes);
    return Digest.of(d);
  }

  private static byte[] with(List<Part> parts, Part more) throws IOException {
    List<Part> all = new ArrayList<>(parts);
    all.add(more);
    return zip(all);
  }

  private static byte[] concat(byte[] a, byte[] b) {
    byte[] out = java.util.Arrays.copyOf(a, a.length + b.length);
    System.arraycopy(b, 0, out, a.length, b.length);
    return out;
  }

  @Test
  void refusesBombsAndLyingSizes() throws IOException {
    List<Part> parts = parts();
    // a gigabyte of zeros in a megabyte, said to be small
    byte[] zeros = new byte[64 << 20];
    List<Part> bomb = new ArrayList<>(parts);
    bomb.set(0, new Part("bom.json", zeros, 8, 0, Zip.FLAGS, 10L));
    refused(file(zip(bomb)), "another size than it says");
    List<Part> honest = new ArrayList<>(parts);
    honest.set(6, new Part("manifest.json", zeros, 8, 0, Zip.FLAGS, 2_000_000_000L));
    refused(file(zip(honest)), "is longer than");
    List<Part> fewer = new ArrayList<>(parts);
    fewer.set(0, new Part("bom.json", parts.get(0).bytes(), 8, 0, Zip.FLAGS, 1_000_000L));
    refused(file(zip(fewer)), "another size than it says");
  }

  @Test
  void survivesThousandsOfMutations() throws IOException {
    mutate(3_000, 20260601L);
  }

  @Tag("nightly")
  @Test
  void survivesAHundredThousandMutations() throws IOException {
    mutate(100_000, System.nanoTime());
  }

  /**
   * Whatever is done to the bytes, it is refused with a sentence, and nothing lies anywhere after.
   */
  private void mutate(int times, long seed) throws IOException {
    Random random = new Random(seed);
    List<byte[]> seeds = new ArrayList<>(List.of(Files.readAllBytes(written(KEYS))));
    List<Part> packed = new ArrayList<>(parts());
    packed.replaceAll(p -> new Part(p.name(), p.bytes(), 8, 0, Zip.FLAGS, null));
    seeds.add(zip(packed));
    Path file = folder.resolve("mutant.zip");
    long before = listed();
    for (int n = 0; n < times; n++) {
      boolean deflated = random.nextBoolean();
      byte[] bytes = mutant(seeds.get(deflated ? 1 : 0), random);
      Files.deleteIfExists(
          file); // a file that is cut to nothing first is flushed when it is closed
      Files.write(file, bytes);
      PackageFile.Checked taken = null;
      try {
        taken = PackageFile.verify(file, x -> {});
      } catch (PackageRefused e) {
        assertThat(e.getMessage()).isNotBlank();
      } catch (RuntimeException | StackOverflowError | OutOfMemoryError e) {
        throw new AssertionError("Mutation " + n + " of seed " + seed + " broke the reader", e);
      }
      if (taken != null && !seeds.stream().anyMatch(s -> java.util.Arrays.equals(s, bytes))) {
        // the last bits of a deflated stream mean nothing; what comes out is what was signed
        assertThat(deflated).as("mutation " + n + " of seed " + seed + " was taken").isTrue();
        assertThat(taken.manifest().version()).isEqualTo(version);
      }
    }
    Files.delete(file);
    assertThat(listed()).as("files written by the reader").isEqualTo(before);
  }

  private long listed() throws IOException {
    try (Stream<Path> all = Files.walk(folder)) {
      return all.count();
    }
  }

  private static byte[] mutant(byte[] seed, Random random) {
    byte[] out = seed.clone();
    switch (random.nextInt(6)) {
      case 0 -> out[random.nextInt(out.length)] ^= (byte) (1 << random.nextInt(8));
      case 1 -> {
        for (int i = 0; i < 1 + random.nextInt(6); i++) {
          out[random.nextInt(out.length)] = (byte) random.nextInt(256);
        }
      }
      case 2 -> out = java.util.Arrays.copyOf(out, random.nextInt(out.length));
      case 3 -> {
        // a piece moved elsewhere
        int length = 1 + random.nextInt(60);
        int from = random.nextInt(out.length - length);
        int to = random.nextInt(out.length - length);
        System.arraycopy(seed, from, out, to, length);
      }
      case 4 -> {
        // the end of the file, where the directory is
        int at = out.length - 1 - random.nextInt(Math.min(out.length, 700));
        out[at] = (byte) (random.nextBoolean() ? 0xff : random.nextInt(256));
      }
      default -> {
        int at = random.nextInt(out.length);
        byte[] longer = new byte[out.length + 1 + random.nextInt(5)];
        System.arraycopy(out, 0, longer, 0, at);
        System.arraycopy(out, at, longer, at + longer.length - out.length, out.length - at);
        out = longer;
      }
    }
    return out;
  }

  @Test
  void workByHandTravelsAndAsksForAReaderThatKnowsIt() throws IOException {
    ManualStep work =
        new ManualStep(
            ManualStep.When.AFTER, "desk", "Hang up\n- gate", "https://a.example", 5, true, true);
    version =
        Version.of(
            "fares",
            version.number(),
            version.parent(),
            version.entries(),
            List.of(),
            version.needs(),
            version.order(),
            List.of(work),
            "Summer fares",
            "",
            List.of(),
            "ines",
            version.sealedAt(),
            "development/main");

    var read = PackageFile.verify(written(KEYS), n -> {});

    assertThat(read.manifest().version()).isEqualTo(version);
    assertThat(read.manifest().version().manual()).containsExactly(work);
    assertThat(read.manifest().toJson().find("format")).isEqualTo(Json.of(3));
  }

  /** A reader that did not know the policy would do something else with the rows. */
  @Test
  void aPolicyOfRowsAsksForAReaderThatKnowsIt() throws IOException {
    List<VersionEntry> entries =
        version.entries().stream()
            .map(
                e ->
                    e.key().kind() == Kind.RECORDS
                        ? new VersionEntry(
                            e.key(),
                            e.uid(),
                            e.content(),
                            new RecordsDefinition(TableName.of("fares.band"), List.of("code"), null)
                                .with(RowsPolicy.MIRROR)
                                .toJson()
                                .canonical(),
                            e.rows(),
                            e.origin())
                        : e)
            .toList();
    version =
        Version.of(
            "fares",
            version.number(),
            version.parent(),
            entries,
            List.of(),
            version.needs(),
            version.order(),
            "Summer fares",
            "",
            List.of(),
            "ines",
            version.sealedAt(),
            "development/main");

    var read = PackageFile.verify(written(KEYS), n -> {}).manifest();

    assertThat(read.version()).isEqualTo(version);
    assertThat(read.toJson().find("format")).isEqualTo(Json.of(4));
  }

  private void withTable(VersionEntry table) {
    List<VersionEntry> entries = new ArrayList<>(version.entries());
    entries.add(table);
    version =
        Version.of(
            "fares",
            version.number(),
            version.parent(),
            entries,
            List.of(),
            version.needs(),
            version.order(),
            "Summer fares",
            "",
            List.of(),
            "ines",
            version.sealedAt(),
            "development/main");
  }

  /** A reader that did not know it would give new columns nothing, and a new type another value. */
  @Test
  void whatValuesAreWorkedOutFromAsksForAReaderThatKnowsIt() throws IOException {
    Conversion cents = new Conversion("price * 100", Map.of("price", "numeric"));
    withTable(
        entry("table/fares.band", "{\"columns\":[]}")
            .converting(Map.of("price", cents), Map.of("name", cents)));

    var read = PackageFile.verify(written(KEYS), n -> {}).manifest();

    assertThat(read.version()).isEqualTo(version);
    assertThat(read.toJson().find("format")).isEqualTo(Json.of(5));
    assertThat(
            read.version()
                .entry(ComponentKey.of("table/fares.band"))
                .orElseThrow()
                .conversionsBack())
        .containsEntry("name", cents);
  }

  /** It is written into statements at a site: one that could be more is not even read. */
  @Test
  void whatCouldBeMoreThanAnExpressionIsRefused() throws IOException {
    withTable(
        entry("table/fares.band", "{\"columns\":[]}")
            .converting(
                Map.of("price", new Conversion("price * 100", Map.of("price", "numeric"))),
                Map.of()));
    List<Part> parts = parts();
    Part manifest =
        parts.stream().filter(p -> p.name().equals("manifest.json")).findFirst().orElseThrow();

    refused(
        resigned(
            parts,
            new String(manifest.bytes(), StandardCharsets.UTF_8)
                .replace("price * 100", "1; DROP TABLE x")),
        "What columns of table/fares.band are worked out from: The expression cannot be used: it cannot hold ;.");
  }

  @Test
  void howColumnsStandIsReadBeforeAnythingElseIsDone() throws IOException {
    VersionEntry band = entry("table/fares.band", "{\"columns\":[]}");
    withTable(
        new VersionEntry(
            band.key(),
            band.uid(),
            band.content(),
            VersionEntry.options(new ColumnPlaces(List.of("code"), Set.of("name"))),
            band.rows(),
            band.origin()));
    List<Part> parts = parts();
    String manifest =
        new String(
            parts.stream()
                .filter(p -> p.name().equals("manifest.json"))
                .findFirst()
                .orElseThrow()
                .bytes(),
            StandardCharsets.UTF_8);
    assertThat(manifest).contains("\"handed\":[\"name\"]");

    for (List<String> broken :
        List.of(List.of("[\"code\"]", "[7]"), List.of("[\"name\"]", "[{}]"))) {
      refused(resigned(parts, manifest.replace(broken.get(0), broken.get(1))), "Expected texts");
    }
  }
}
