package plenzo.connectors.directory;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import java.io.IOException;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.item.FileHead;
import plenzo.core.source.RefusedDocument;
import plenzo.core.target.Aside;
import plenzo.core.target.Connector.Trial;
import plenzo.core.target.Connector.Use;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.LastChange;
import plenzo.core.target.Leftover;
import plenzo.core.target.Probe;
import plenzo.core.target.Settled;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;

/** The connector against a real file system. */
class DirectoryConnectorTest {
  @TempDir Path folder;

  private DirectoryWorld world(String mode) {
    DirectoryWorld w = new DirectoryWorld(folder, mode);
    w.write("fares/a.txt", "a\n");
    w.write("fares/b.txt", "b\n");
    w.write("fares/deep/c.txt", "c\n");
    w.write("sailings/t.txt", "t\n");
    w.connector.makeReady(w.access);
    return w;
  }

  @Test
  void tellsWhenAFileWasChangedLast() throws IOException {
    DirectoryWorld w = world("exchange");
    Instant then = Instant.parse("2027-03-01T08:00:00Z");
    Files.setLastModifiedTime(w.published.resolve("fares/a.txt").toRealPath(), FileTime.from(then));

    try (ItemsLooking looking = w.connector.look(w.access)) {
      LastChange a = looking.lastChange(ComponentKey.of("file/fares/a.txt"));
      assertThat(a.at()).isEqualTo(then);
      assertThat(a.by()).as("a directory does not tell who").isNull();
      assertThat(looking.lastChange(ComponentKey.of("file/fares/none.txt")))
          .isEqualTo(LastChange.UNKNOWN);
    }
  }

  private static Map<String, @Nullable Digest> next(DirectoryWorld w) {
    Map<String, @Nullable Digest> next = new HashMap<>();
    next.put("fares/a.txt", w.content("a2\n"));
    next.put("fares/b.txt", null);
    next.put("fares/new/d.sh", w.content(new FileHead(true, null), "d\n"));
    next.put("fares/latest", w.content(new FileHead(false, "deep/c.txt"), ""));
    return next;
  }

  private static final Map<String, String> OLD =
      Map.of(
          "fares/a.txt",
          "a\n",
          "fares/b.txt",
          "b\n",
          "fares/deep/c.txt",
          "c\n",
          "sailings/t.txt",
          "t\n");
  private static final Map<String, String> NEW =
      Map.of(
          "fares/a.txt",
          "a2\n",
          "fares/new/d.sh",
          "d\n",
          "fares/latest",
          "-> deep/c.txt",
          "fares/deep/c.txt",
          "c\n",
          "sailings/t.txt",
          "t\n");

  private static List<Leftover> leftovers(DirectoryWorld w) {
    try (ItemsLooking looking = w.connector.look(w.access)) {
      return looking.leftovers();
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"exchange", "in-place"})
  void aPlaceBesideIsChangedLikeTheDirectoryWhichStaysAsItIs(String mode) {
    DirectoryWorld w = world(mode);
    Aside aside = w.connector.aside(w.access, 4);
    try (ItemsLooking looking = w.connector.look(w.access)) {
      aside.fill(
          looking,
          Map.of(
              ComponentKey.of("file/fares/a.txt"), w.content("a\n"),
              ComponentKey.of("file/fares/b.txt"), w.content("b\n")),
          () -> {});
    }
    DirectoryWorld copy = w.at(aside.inside());
    assertThat(copy.files()).isEqualTo(Map.of("fares/a.txt", "a\n", "fares/b.txt", "b\n"));
    assertThat(leftovers(w))
        .extracting(Leftover::sort, Leftover::name, Leftover::run)
        .contains(tuple(Leftover.Sort.REHEARSAL, "rehearsal-4", 4L));

    copy.run(1, copy.delta(next(w)));

    assertThat(copy.files())
        .isEqualTo(
            Map.of(
                "fares/a.txt", "a2\n", "fares/new/d.sh", "d\n", "fares/latest", "-> deep/c.txt"));
    assertThat(w.files()).isEqualTo(OLD);
    try (ItemsChanging changing = w.connector.change(w.access)) {
      changing.claim();
      leftovers(w).stream()
          .filter(l -> l.sort() == Leftover.Sort.REHEARSAL)
          .forEach(changing::clear);
    }
    assertThat(leftovers(w)).extracting(Leftover::sort).doesNotContain(Leftover.Sort.REHEARSAL);
    aside.drop();
  }

  @Test
  void whatIsNoLongerThatContentIsNotCopied() {
    DirectoryWorld w = world("exchange");
    Aside aside = w.connector.aside(w.access, 4);
    try (ItemsLooking looking = w.connector.look(w.access)) {
      assertThatThrownBy(
              () ->
                  aside.fill(
                      looking,
                      Map.of(ComponentKey.of("file/fares/a.txt"), w.content("another\n")),
                      () -> {}))
          .isInstanceOf(TargetFailed.class)
          .hasMessageContaining("Nothing can be rehearsed beside");
    }
    aside.drop();
    assertThat(leftovers(w)).extracting(Leftover::sort).doesNotContain(Leftover.Sort.REHEARSAL);
  }

  @ParameterizedTest
  @CsvSource({
    "exchange, trees/run-6;run-7;trees/run-8;proof-9",
    "in-place, run-7;proof-9",
  })
  void namesWhatRunsLeftAndClearsOneOfIt(String mode, String names) throws IOException {
    DirectoryWorld w = world(mode);
    assertThat(leftovers(w))
        .as("the published tree is none")
        .extracting(Leftover::name)
        .doesNotContain("run-7");
    Path beside = w.published.resolveSibling("published.plenzo");
    for (String name : names.split(";")) {
      Files.createDirectories(beside.resolve(name));
      Files.writeString(beside.resolve(name).resolve("x"), "four");
    }
    List<Leftover> before = leftovers(w);
    assertThat(before).extracting(Leftover::name).contains(names.split(";"));
    assertThat(before)
        .filteredOn(l -> l.name().equals("proof-9"))
        .containsExactly(new Leftover(Leftover.Sort.SCRATCH, "proof-9", 9, 4L));

    try (ItemsChanging changing = w.connector.change(w.access)) {
      changing.claim();
      before.stream().filter(l -> l.name().equals("run-7")).forEach(changing::clear);
    }

    assertThat(leftovers(w))
        .extracting(Leftover::name)
        .doesNotContain("run-7")
        .hasSize(before.size() - 1);
    assertThat(w.files()).isEqualTo(OLD);
  }

  @ParameterizedTest
  @ValueSource(strings = {"exchange", "in-place"})
  void switchesUndoesAndSettles(String mode) throws IOException {
    DirectoryWorld w = world(mode);
    ItemsDelta delta = w.delta(next(w));

    w.run(7, delta);

    assertThat(w.files()).isEqualTo(NEW);
    assertThat(Files.isExecutable(w.published.resolve("fares/new/d.sh"))).isTrue();
    try (ItemsChanging changing = w.connector.change(w.access)) {
      assertThat(changing.settle(DirectoryWorld.mark(7), List.of())).isEqualTo(Settled.APPLIED);
      changing.undo(DirectoryWorld.mark(7));
      changing.undo(DirectoryWorld.mark(7));
    }
    assertThat(w.files()).isEqualTo(OLD);
    try (ItemsChanging changing = w.connector.change(w.access)) {
      changing.discard(7);
      changing.discard(7);
    }
    assertThat(w.files()).isEqualTo(OLD);
  }

  @ParameterizedTest
  @ValueSource(strings = {"exchange", "in-place"})
  void neverAppliesAfterItWasMadeVoid(String mode) {
    DirectoryWorld w = world(mode);
    ItemsDelta delta = w.delta(next(w));
    try (ItemsChanging changing = w.connector.change(w.access)) {
      changing.prepare(7, delta, new DirectoryWorld.Watch());
      assertThat(changing.settle(DirectoryWorld.mark(7), List.of())).isEqualTo(Settled.VOID);

      assertThatThrownBy(
              () -> changing.switchOver(DirectoryWorld.mark(7), delta, new DirectoryWorld.Watch()))
          .isInstanceOf(SwitchRefused.class)
          .hasMessageContaining("void");
    }
    assertThat(w.files()).isEqualTo(OLD);
  }

  @ParameterizedTest
  @ValueSource(strings = {"exchange", "in-place"})
  void refusesWhenWhatItReplacesMoved(String mode) {
    DirectoryWorld w = world(mode);
    ItemsDelta delta = w.delta(next(w));
    try (ItemsChanging changing = w.connector.change(w.access)) {
      changing.prepare(7, delta, new DirectoryWorld.Watch());
      w.write("fares/b.txt", "b by hand\n");

      assertThatThrownBy(
              () -> changing.switchOver(DirectoryWorld.mark(7), delta, new DirectoryWorld.Watch()))
          .isInstanceOfSatisfying(
              SwitchRefused.class,
              e -> {
                assertThat(e.why()).isEqualTo(SwitchRefused.Why.MOVED);
                assertThat(e.details()).containsExactly("file/fares/b.txt");
              });
    }
    assertThat(w.files().get("fares/b.txt")).isEqualTo("b by hand\n");
    assertThat(w.files().get("fares/a.txt")).isEqualTo("a\n");
  }

  @Test
  void stopsWhenAnOwnedFileMovedAndCarriesOverWhatNobodyOwns() throws IOException {
    DirectoryWorld w = world("exchange");
    ItemsDelta delta = w.delta(next(w));
    try (ItemsChanging changing = w.connector.change(w.access)) {
      changing.prepare(7, delta, new DirectoryWorld.Watch());
      w.write("fares/deep/c.txt", "c by hand\n");
      assertThatThrownBy(
              () -> changing.switchOver(DirectoryWorld.mark(7), delta, new DirectoryWorld.Watch()))
          .isInstanceOfSatisfying(
              SwitchRefused.class,
              e -> assertThat(e.details()).containsExactly("file/fares/deep/c.txt"));
      changing.discard(7);
    }
    ItemsDelta again = w.delta(next(w));
    try (ItemsChanging changing = w.connector.change(w.access)) {
      changing.prepare(8, again, new DirectoryWorld.Watch());
      w.write("sailings/t.txt", "t by others\n");
      w.write("upload/x.bin", "x\n");
      changing.switchOver(DirectoryWorld.mark(8), again, new DirectoryWorld.Watch());
      assertThat(w.files())
          .containsEntry("sailings/t.txt", "t by others\n")
          .containsEntry("upload/x.bin", "x\n")
          .containsEntry("fares/a.txt", "a2\n");

      Files.delete(w.published.resolve("upload/x.bin"));
      w.write("sailings/u.txt", "u\n");
      changing.undo(DirectoryWorld.mark(8));
    }
    assertThat(w.files())
        .containsEntry("sailings/u.txt", "u\n")
        .containsEntry("sailings/t.txt", "t by others\n")
        .containsEntry("fares/a.txt", "a\n")
        .doesNotContainKey("upload/x.bin");
  }

  @ParameterizedTest
  @ValueSource(strings = {"exchange", "in-place"})
  void refusesToSwitchBackWhatPeopleTouchedSince(String mode) {
    DirectoryWorld w = world(mode);
    w.run(7, w.delta(next(w)));
    w.write("fares/a.txt", "a by hand\n");
    try (ItemsChanging changing = w.connector.change(w.access)) {
      assertThatThrownBy(() -> changing.undo(DirectoryWorld.mark(7)))
          .isInstanceOfSatisfying(
              SwitchRefused.class,
              e -> assertThat(e.details()).containsExactly("file/fares/a.txt"));
    }
    assertThat(w.files()).containsEntry("fares/a.txt", "a by hand\n");
  }

  @Test
  void sharesOnlyOwnedFilesSoThatAppendingChangesOneTree() throws IOException {
    DirectoryWorld w = world("exchange");
    ItemsDelta delta = w.delta(next(w));
    Path oldTree = w.published.toRealPath();
    try (ItemsChanging changing = w.connector.change(w.access)) {
      changing.prepare(7, delta, new DirectoryWorld.Watch());
      changing.switchOver(DirectoryWorld.mark(7), delta, new DirectoryWorld.Watch());
    }

    Files.writeString(w.published.resolve("sailings/t.txt"), "more\n", StandardOpenOption.APPEND);

    assertThat(Files.readString(oldTree.resolve("sailings/t.txt"))).isEqualTo("t\n");
    assertThat(
            Files.isSameFile(
                oldTree.resolve("fares/deep/c.txt"), w.published.resolve("fares/deep/c.txt")))
        .isTrue();
  }

  /** A kept file that lost a byte is found by restoring it; the tree is not touched by that. */
  @ParameterizedTest
  @ValueSource(strings = {"exchange", "in-place"})
  void restoresKeptFilesBesideTheTreeAndNamesThoseThatDiffer(String mode) {
    DirectoryWorld w = world(mode);
    Digest tool = w.content(new FileHead(true, null), "#!/bin/sh\n");
    Digest link = w.content(new FileHead(false, "a.txt"), "");
    Digest lost = w.content("b\n");
    Map<ComponentKey, Digest> kept = new LinkedHashMap<>();
    kept.put(ComponentKey.of("file/fares/tool.sh"), tool);
    kept.put(ComponentKey.of("file/fares/link"), link);
    kept.put(ComponentKey.of("file/fares/b.txt"), lost);
    ItemsDelta.Source source = w.delta(Map.of()).source();
    Map<String, String> before = w.files();
    try (ItemsChanging changing = w.connector.change(w.access)) {
      assertThat(changing.restoreAside(7, kept, source, () -> {})).isEmpty();
      assertThat(
              changing.restoreAside(
                  7,
                  kept,
                  (kind, digest) -> source.open(kind, digest.equals(lost) ? tool : digest),
                  () -> {}))
          .containsExactly(ComponentKey.of("file/fares/b.txt"));
    }
    assertThat(w.files()).isEqualTo(before);
    assertThat(folder.resolve("published.plenzo/proof-7")).doesNotExist();
  }

  @Test
  void writesNothingThroughALinkNorOutsideTheTree() throws IOException {
    DirectoryWorld w = world("exchange");
    Path outside = Files.createDirectory(folder.resolve("outside"));
    Files.createSymbolicLink(w.published.resolve("fares/out"), outside);
    Map<String, @Nullable Digest> next = new HashMap<>();
    next.put("fares/out/x.txt", w.content("x\n"));
    ItemsDelta delta = w.delta(next);
    try (ItemsChanging changing = w.connector.change(w.access)) {
      assertThatThrownBy(() -> changing.prepare(7, delta, new DirectoryWorld.Watch()))
          .isInstanceOf(IllegalArgumentException.class)
          .hasMessageContaining("no folder");
    }
    Map<String, @Nullable Digest> link = new HashMap<>();
    link.put("fares/up", w.content(new FileHead(false, "../../../etc/passwd"), ""));
    ItemsDelta linking = w.delta(link);
    try (ItemsChanging changing = w.connector.change(w.access)) {
      assertThatThrownBy(() -> changing.prepare(8, linking, new DirectoryWorld.Watch()))
          .isInstanceOf(IllegalArgumentException.class)
          .hasMessageContaining("outside the tree");
    }
    assertThat(outside).isEmptyDirectory();
    assertThat(w.inventory().get("fares/out").refusal()).contains("leads outside");
  }

  @Test
  void namesFilesThatWereWrittenInsideTheTreeSinceTheSwitch() {
    DirectoryWorld w = world("exchange");
    w.run(7, w.delta(next(w)));
    try (ItemsLooking looking = w.connector.look(w.access)) {
      assertThat(looking.limits("fares").changedInPlace()).isEmpty();
    }
    w.write("fares/counter.log", "1\n");
    w.published
        .resolve("fares/counter.log")
        .toFile()
        .setLastModified(Instant.now().plusSeconds(5).toEpochMilli());
    try (ItemsLooking looking = w.connector.look(w.access)) {
      assertThat(looking.limits("fares").changedInPlace()).containsExactly("fares/counter.log");
    }
  }

  @Test
  void isRedUntilItCanBeExchangedAndWhenItIsSomebodyElse() {
    DirectoryWorld w = new DirectoryWorld(folder, "exchange");
    w.write("fares/a.txt", "a\n");
    TargetIdentity me = new TargetIdentity("s", "test", "main", "files", Instant.EPOCH);
    assertThat(red(w, me)).containsExactly("can be exchanged");

    w.connector.makeReady(w.access);
    assertThat(w.connector.makeReady(w.access)).contains("already");
    assertThat(red(w, me)).isEmpty();
    assertThat(w.files()).containsEntry("fares/a.txt", "a\n");

    try (ItemsChanging changing = w.connector.change(w.access)) {
      changing.declare(new TargetIdentity("s", "production", "north", "files", Instant.EPOCH), "");
    }
    assertThat(red(w, me)).containsExactly("identity");
  }

  private static List<String> red(DirectoryWorld w, TargetIdentity expected) {
    return w.connector.test(w.access, Trial.of(Use.CHANGING, List.of(), expected)).stream()
        .filter(p -> !p.good())
        .map(Probe::name)
        .toList();
  }

  @Test
  void aFileThatCannotBeReadIsFoundByTheTestAndNotByTheFirstRun() {
    world("exchange");
    Path published = folder.resolve("published");

    Probe all = new Readable(Files::isReadable).probe(published);
    assertThat(all.good()).isTrue();
    assertThat(all.found()).isEqualTo("7 files and folders, all readable");

    Probe some =
        new Readable(p -> !p.endsWith("c.txt") && !p.endsWith("sailings")).probe(published);
    assertThat(some.good()).isFalse();
    assertThat(some.found()).startsWith("2 of 6").contains("fares/deep/c.txt").contains("sailings");
    assertThat(some.advice()).contains("setfacl").contains(published.toString());
  }

  @Test
  void whatLiesOutsideTheNameSpaceIsNamedOnceAFolder() {
    DirectoryWorld w = world("exchange");
    w.write("readme.txt", "x");
    w.write("notes/one.txt", "1");
    w.write("notes/two.txt", "2");

    try (ItemsLooking looking = w.connector.look(w.access)) {
      assertThat(looking.passedOver("fares"))
          .extracting(RefusedDocument::path)
          .containsExactly("notes/", "readme.txt", "sailings/");
      assertThat(looking.passedOver("fares"))
          .extracting(RefusedDocument::why)
          .containsOnly("it lies outside the folder fares/");
    }
  }

  @Test
  void aFileOfWhichTheSystemMakesNoLinkIsCopied() throws IOException {
    DirectoryWorld w = world("exchange");
    ItemsDelta delta = w.delta(next(w));
    try (ItemsChanging changing =
        new ExchangeChanging(
            new Control(w.access),
            (place, file) -> {
              throw new FileSystemException(file.toString(), place.toString(), "not permitted");
            })) {
      changing.claim();
      changing.prepare(7, delta, new DirectoryWorld.Watch());
      changing.switchOver(DirectoryWorld.mark(7), delta, new DirectoryWorld.Watch());
    }

    assertThat(w.files()).isEqualTo(NEW);
    assertThat(
            Files.getAttribute(w.published.toRealPath().resolve("fares/deep/c.txt"), "unix:nlink"))
        .isEqualTo(1);
  }

  @Test
  void oneAtATime() {
    DirectoryWorld w = world("exchange");
    try (ItemsChanging first = w.connector.change(w.access);
        ItemsChanging second = w.connector.change(w.access)) {
      first.claim();
      assertThatThrownBy(second::claim)
          .isInstanceOfSatisfying(
              SwitchRefused.class, e -> assertThat(e.why()).isEqualTo(SwitchRefused.Why.LOCKED));
    }
  }
}
