package plenzo.core.may;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.person.Person;
import plenzo.core.person.Right;

class MayTest {
  private static final Person TOVE = Person.invited("tove", "Tove", "", false);

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          production | fares | at production for fares | --stage production --app fares
          production | *     | at production for every application | --stage production
          *          | *     | at every stage for every application | ''
          *          | fares | at every stage for fares | --app fares
          ?          | fares | for fares | --stage STAGE --app fares
          ?          | ?     | '' | --stage STAGE --app APPLICATION
          """)
  void aRefusalNamesTheRightThePlaceAndTheLineThatGrantsIt(
      String stage, String application, String place, String options) {
    May no = May.byRight(TOVE, Right.GO_BACK, stage, application, List.of(TOVE));

    assertThat(no.allowed()).isFalse();
    assertThat(no.words()).isEqualTo(("tove lacks the right \"go-back\" " + place).strip() + ".");
    assertThat(no.next())
        .containsExactly(
            ("Ask an administrator: plenzo role grant tove go-back " + options).strip());
  }
}
