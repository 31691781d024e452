package plenzo.engine.recording;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.core.digest.Digest;
import plenzo.core.history.Anchor;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.Names;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.run.Run;
import plenzo.engine.evidence.EvidenceDesk;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.packages.PackageRefused;
import plenzo.packages.SavedHistory;
import plenzo.packages.SavedHistory.Checked;
import plenzo.packages.SavedHistory.Word;
import plenzo.packages.Signatures;
import plenzo.packages.SignedHead;

/** A stretch of the history is checked with nothing but its file and a head kept elsewhere. */
class SavingTest extends KitTest {
  @TempDir Path folder;

  @BeforeEach
  void world() {
    kit.engine().keys().make(kit.ines, "here");
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
  }

  private Path saved(Instant from, Instant until, boolean with, Person by) throws IOException {
    Path file = folder.resolve("saved-" + System.nanoTime() + ".zip");
    try (InputStream in = kit.engine().saving().save(by, from, until, with).bytes()) {
      Files.copy(in, file);
    }
    return file;
  }

  private Path saved() throws IOException {
    return saved(Instant.EPOCH, kit.clock.instant(), true, kit.ines);
  }

  private SignedHead head() {
    return SignedHead.read(kit.engine().history().head(kit.ines));
  }

  private static Map<String, byte[]> parts(Path file) throws IOException {
    Map<String, byte[]> out = new TreeMap<>();
    try (ZipInputStream zip = new ZipInputStream(Files.newInputStream(file))) {
      for (ZipEntry e = zip.getNextEntry(); e != null; e = zip.getNextEntry()) {
        out.put(e.getName(), zip.readAllBytes());
      }
    }
    return out;
  }

  /** What a forger with a key of their own would hand over. */
  private Path forged(Path file, Map<String, byte[]> parts) throws IOException {
    Path out = folder.resolve("forged-" + System.nanoTime() + ".zip");
    List<SavedHistory.Part> all = new ArrayList<>();
    parts.forEach(
        (name, bytes) -> {
          if (!name.equals("contents.json")) {
            all.add(
                new SavedHistory.Part(
                    name,
                    bytes.length,
                    Digest.of(new String(bytes, StandardCharsets.UTF_8)),
                    () -> new ByteArrayInputStream(bytes)));
          }
        });
    SavedHistory.write(
        out, SavedHistory.check(file, null).facts(), all, Signatures.make(new SecureRandom()));
    return out;
  }

  @Test
  void theHeadOfBeforeHoldsAndWhatCameAfterItIsVouchedForByTheSignature() throws IOException {
    SignedHead head = head();
    kit.bring("1.1.0");

    Checked c = SavedHistory.check(saved(), head);

    assertThat(c.word()).isEqualTo(Word.HOLDS);
    assertThat(c.intact()).isTrue();
    assertThat(c.first()).isEqualTo(1);
    assertThat(c.last()).isGreaterThan(head.anchor().number());
    assertThat(c.entries()).isEqualTo(c.last());
  }

  @Test
  void recordsAndEvidenceOfTheSpanGoWithItAndWhatWasNotGivenIsSaid() throws IOException {
    Run run = kit.bring("1.1.0");
    kit.engine()
        .evidence()
        .give(
            kit.ines,
            new EvidenceDesk.About(run.number(), 0, "../seen.txt", "Seen on the quay"),
            new ByteArrayInputStream("It works".getBytes(StandardCharsets.UTF_8)));

    assertThat(parts(saved()))
        .containsKeys("records/P-1.html", "evidence/E-1/.._seen.txt", "entries.jsonl");
    Person audits = EngineKit.person("odile", Right.AUDIT);
    Checked c = SavedHistory.check(saved(Instant.EPOCH, kit.clock.instant(), true, audits), null);
    assertThat(c.facts().leftOut())
        .anyMatch(l -> l.startsWith("The record of P-1: "))
        .anyMatch(l -> l.startsWith("The file of evidence E-1: "));
    assertThat(parts(saved(Instant.EPOCH, kit.clock.instant(), false, kit.ines)))
        .doesNotContainKey("records/P-1.html");
  }

  @Test
  void aStretchBeginsWhereItIsAskedToAndGoesOnToTheHead() throws IOException {
    kit.bring("1.1.0");
    SignedHead early = head();
    Instant from = kit.clock.instant();
    kit.sealPeak("1.2.0", "26.00");
    Instant until = kit.clock.instant();
    kit.sealPeak("1.3.0", "27.00");

    Checked c = SavedHistory.check(saved(from, until, false, kit.ines), head());
    assertThat(c.first()).isEqualTo(early.anchor().number() + 1);
    assertThat(c.word()).isEqualTo(Word.HOLDS);
    assertThat(SavedHistory.check(saved(from, until, false, kit.ines), early).word())
        .as("it says nothing of what came after it")
        .isEqualTo(Word.BEFORE);
  }

  @Test
  void withoutAHeadAnybodyWithAKeyCouldHaveMadeItUp() throws IOException {
    assertThat(SavedHistory.check(saved(), null).word()).isEqualTo(Word.NONE);
  }

  @Test
  void anEntryThatAForgerRewroteIsFoundByTheHead() throws IOException {
    SignedHead head = head();
    Path file = saved();
    Map<String, byte[]> parts = parts(file);
    List<HistoryEntry> chain = new ArrayList<>();
    new String(parts.get("entries.jsonl"), StandardCharsets.UTF_8)
        .lines()
        .forEach(l -> chain.add(0, HistoryEntry.ofLine(l)));
    StringBuilder lines = new StringBuilder();
    String before = HistoryEntry.START;
    for (HistoryEntry e : chain) {
      HistoryEntry next =
          HistoryEntry.after(
              e.sequence(),
              before,
              e.at(),
              HistoryEntry.Event.of("somebody", e.event(), "Another"),
              Names.NONE);
      before = next.hash();
      lines.insert(0, next.line() + "\n");
    }
    parts.put("entries.jsonl", lines.toString().getBytes(StandardCharsets.UTF_8));

    Path forged = forged(file, parts);

    Checked alone = SavedHistory.check(forged, null);
    assertThat(alone.broken()).as("a chain of its own").isZero();
    assertThat(SavedHistory.check(forged, head).word()).isEqualTo(Word.ANOTHER);
    assertThat(SavedHistory.check(forged, head).intact()).isFalse();
  }

  @Test
  void anEntryThatIsGoneOrAlteredBreaksTheChain() throws IOException {
    Path file = saved();
    Map<String, byte[]> parts = parts(file);
    String lines = new String(parts.get("entries.jsonl"), StandardCharsets.UTF_8);

    parts.put(
        "entries.jsonl", lines.replace("adopted", "adapted").getBytes(StandardCharsets.UTF_8));
    assertThat(SavedHistory.check(forged(file, parts), null).broken()).isPositive();

    List<String> all = new ArrayList<>(lines.lines().toList());
    all.remove(1);
    parts.put("entries.jsonl", (String.join("\n", all) + "\n").getBytes(StandardCharsets.UTF_8));
    assertThat(SavedHistory.check(forged(file, parts), null).broken()).isPositive();
  }

  @Test
  void aNameThatAForgerPutBesideASignIsFound() throws IOException {
    kit.write(
        kept -> {
          kept.people().insert(Person.invited("zebedee", "Zebedee Quill", "", false));
          return kept.note(
              HistoryEntry.Event.of("zebedee", "signed in", "Signed in"), kit.clock.instant());
        });
    Path file = saved();
    assertThat(SavedHistory.check(file, null).broken()).isZero();
    Map<String, byte[]> parts = parts(file);
    assertThat(new String(parts.get("entries.jsonl"), StandardCharsets.UTF_8))
        .doesNotContain("zebedee");
    parts.put(
        "names.jsonl",
        new String(parts.get("names.jsonl"), StandardCharsets.UTF_8)
            .replace("zebedee", "bram")
            .getBytes(StandardCharsets.UTF_8));

    assertThat(SavedHistory.check(forged(file, parts), null).broken()).isPositive();
  }

  @Test
  void aFileThatIsNotAsListedIsNamed() throws IOException {
    kit.bring("1.1.0");
    Path file = saved();
    byte[] bytes = Files.readAllBytes(file);
    int at = new String(bytes, StandardCharsets.ISO_8859_1).indexOf("<dl>");
    assertThat(at).isPositive();
    bytes[at + 1] = 'D';
    Files.write(file, bytes);

    assertThatThrownBy(() -> SavedHistory.check(file, null))
        .isInstanceOf(PackageRefused.class)
        .hasMessageContaining("damaged");
  }

  @Test
  void aHeadOfAnotherServiceOrOfLaterSaysNothing() throws IOException {
    Path file = saved();
    Signatures.Keys keys = Signatures.make(new SecureRandom());
    SignedHead other =
        SignedHead.read(
            SignedHead.sign(new Anchor(2, "a".repeat(64)), "another", Instant.EPOCH, keys));
    assertThat(SavedHistory.check(file, other).word()).isEqualTo(Word.OTHER_SERVICE);

    kit.bring("1.1.0");
    assertThat(SavedHistory.check(file, head()).word()).isEqualTo(Word.AFTER);
  }

  @Test
  void whatIsNoSavedHistoryIsRefused() throws IOException {
    Path file = folder.resolve("no.zip");
    Files.writeString(file, "no");

    assertThatThrownBy(() -> SavedHistory.check(file, null)).isInstanceOf(PackageRefused.class);
  }

  @Test
  void onlyWhoAuditsEverythingSavesItAndNothingStaysBehind() throws IOException {
    Person looks = EngineKit.person("looks", Right.LOOK);
    assertThatThrownBy(
            () -> kit.engine().saving().save(looks, Instant.EPOCH, kit.clock.instant(), true))
        .isInstanceOf(Problem.class);
    saved();
    assertThat(kit.engine().tools().files().list("saved")).isEmpty();
  }
}
