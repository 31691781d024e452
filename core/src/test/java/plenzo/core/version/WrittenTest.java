package plenzo.core.version;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.person.Person;

/** Who made a version, as people that are known here, and those who are not. */
class WrittenTest {
  private static final List<Person> PEOPLE =
      List.of(
          Person.invited("sanna", "Sanna", "", false)
              .withWritesAs(List.of("sanna@morrowick.example", "s.voss@home.example")),
          Person.invited("ines", "Ines", "", false));

  private static VersionHead version(String author, Written written) {
    return Version.of(
            "fares",
            new SemVer("2.6.0"),
            null,
            List.of(),
            List.of(),
            List.of(),
            List.of(),
            "title",
            "",
            List.of(),
            author,
            Instant.EPOCH,
            "")
        .written(written)
        .head();
  }

  private static Written by(boolean whole, String... authors) {
    return new Written(List.of("c".repeat(40)), List.of(authors), whole);
  }

  @Test
  void authorsAreFoundByTheirAddressesHoweverTheirNamesAreWritten() {
    Written.Known made =
        Written.madeBy(
            version(
                "ines",
                by(true, "Sanna Voss <Sanna@Morrowick.example>", "S <s.voss@home.example>")),
            PEOPLE);

    assertThat(made.logins()).containsExactlyInAnyOrder("ines", "sanna");
    assertThat(made.strangers()).isEmpty();
  }

  @Test
  void whoNobodyIsKnownToBeIsAStrangerAlsoWithTheNameOfSomebody() {
    Written.Known made =
        Written.madeBy(version("ines", by(true, "sanna <other@morrowick.example>")), PEOPLE);

    assertThat(made.logins()).containsExactly("ines");
    assertThat(made.strangers()).containsExactly("sanna <other@morrowick.example>");
  }

  @Test
  void whatSealedItselfIsByTheAuthorOfItsCommit() {
    assertThat(Written.madeBy(version("Sanna <sanna@morrowick.example>", Written.NOTHING), PEOPLE))
        .isEqualTo(Written.Known.only("sanna"));
    assertThat(
            Written.madeBy(version("Zita <zita@x.example>", Written.NOTHING), PEOPLE).strangers())
        .containsExactly("Zita <zita@x.example>");
  }

  @Test
  void commitsThatWereNotLookedAtAreByStrangers() {
    assertThat(
            Written.madeBy(version("ines", by(false, "S <sanna@morrowick.example>")), PEOPLE)
                .strangers())
        .containsExactly("others, of commits that were too many to look at");
  }

  @Test
  void whoWroteItIsNoPartOfItsDigest() {
    assertThat(version("ines", by(true, "Zita <zita@x.example>")).digest())
        .isEqualTo(version("ines", Written.NOTHING).digest());
  }
}
