package plenzo.core.version;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.manual.ManualStep;
import plenzo.core.manual.ManualStep.When;

/** 2.4.0 has two lines: 2.5.0 and 2.6.0 on the one, the hotfix 2.4.1 on the other. */
class AncestryTest {
  private final Version first = version("2.3.0", null, Map.of("table/a", "1", "table/b", "1"));
  private final Version second = version("2.4.0", "2.3.0", Map.of("table/a", "2", "table/b", "1"));
  private final Version fix = version("2.4.1", "2.4.0", Map.of("table/a", "3", "table/b", "1"));
  private final Version third =
      version("2.5.0", "2.4.0", Map.of("table/a", "2", "table/b", "2"), "column/old");
  private final Version fourth =
      version("2.6.0", "2.5.0", Map.of("table/a", "2", "table/b", "3"), "column/older");
  private final Ancestry ancestry =
      new Ancestry(Stream.of(first, second, fix, third, fourth).map(Version::head).toList());

  private static Version version(
      String number, String parent, Map<String, String> content, String... removed) {
    List<VersionEntry> entries =
        new TreeMap<>(content)
            .entrySet().stream()
                .map(
                    e ->
                        new VersionEntry(
                            ComponentKey.of(e.getKey()),
                            "uid-" + e.getKey(),
                            Digest.of(e.getValue()),
                            null,
                            0,
                            "development/main"))
                .toList();
    List<Removal> removals =
        List.of(removed).stream()
            .map(part -> new Removal(ComponentKey.of("table/b"), part))
            .toList();
    return Version.of(
        "fares",
        new SemVer(number),
        parent == null ? null : new SemVer(parent),
        entries,
        removals,
        List.of(),
        List.of(),
        "title",
        "",
        List.of(),
        "ines",
        Instant.EPOCH,
        "development/main");
  }

  private static SemVer number(String text) {
    return new SemVer(text);
  }

  @Test
  void takesTheNewestVersionThatBothDescendFromAsBase() {
    assertThat(ancestry.base(number("2.6.0"), number("2.4.1"))).contains(second.head());
    assertThat(ancestry.base(number("2.6.0"), number("2.4.0"))).contains(second.head());
    assertThat(ancestry.base(number("2.4.0"), number("2.6.0"))).contains(second.head());
    assertThat(ancestry.base(number("2.6.0"), number("9.9.9"))).isEmpty();
  }

  @Test
  void addsUpTheRemovalsOfSkippedVersions() {
    assertThat(ancestry.removalsSince(number("2.6.0"), second.head()))
        .extracting(Removal::part)
        .containsExactly("column/older", "column/old");
    assertThat(ancestry.removalsSince(number("2.6.0"), third.head()))
        .extracting(Removal::part)
        .containsExactly("column/older");
  }

  @Test
  void namesAFixThatTheIncomingVersionDoesNotHave() {
    assertThat(ancestry.fixesLeftOut(fourth, fix, second))
        .containsExactly(ComponentKey.of("table/a"));
    assertThat(ancestry.fixesLeftOut(fourth, second, first))
        .as("what descends from the present version has its changes")
        .isEmpty();
  }

  @Test
  void givesTheSameContentTheSameDigestWhateverItIsCalled() {
    Version again = version("3.0.0", "2.6.0", Map.of("table/b", "1", "table/a", "3"));

    assertThat(again.digest()).isEqualTo(fix.digest());
    assertThat(third.digest())
        .isNotEqualTo(version("2.5.0", "2.4.0", Map.of("table/a", "2", "table/b", "2")).digest());
  }

  private static Version asking(String number, String parent, ManualStep... work) {
    return Version.of(
        "fares",
        new SemVer(number),
        parent == null ? null : new SemVer(parent),
        List.of(),
        List.of(),
        List.of(),
        List.of(),
        List.of(work),
        "title",
        "",
        List.of(),
        "ines",
        Instant.EPOCH,
        "development/main");
  }

  @Test
  void workByHandOfSkippedVersionsAddsUpTheEarliestFirst() {
    Version a = asking("1.0.0", null, ManualStep.of(When.AFTER, "", "of the base"));
    Version b = asking("1.1.0", "1.0.0", ManualStep.of(When.AFTER, "", "of the skipped one"));
    Version c = asking("1.2.0", "1.1.0", ManualStep.of(When.BEFORE, "", "of the newest"));
    Ancestry line = new Ancestry(Stream.of(a, b, c).map(Version::head).toList());

    assertThat(line.manualSince(c.number(), a.head()))
        .extracting(x -> x.words())
        .containsExactly("of the skipped one (fares@1.1.0)", "of the newest (fares@1.2.0)");
    assertThat(line.manualSince(c.number(), c.head())).isEmpty();
    assertThat(line.manualSince(b.number(), null)).hasSize(2);
  }

  @Test
  void workByHandIsPartOfAVersionsDigest() {
    assertThat(asking("1.0.0", null, ManualStep.of(When.AFTER, "", "a")).digest())
        .isNotEqualTo(asking("1.0.0", null).digest())
        .isNotEqualTo(asking("1.0.0", null, ManualStep.of(When.AFTER, "", "b")).digest());
  }
}
