package plenzo.core.target;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import plenzo.core.component.TableName;
import plenzo.core.table.Conversion;
import plenzo.core.table.IndexKeys;
import plenzo.core.table.Renaming;
import plenzo.core.target.Question.Converted;
import plenzo.core.target.Question.Hop;
import plenzo.core.target.Question.Made;
import plenzo.core.target.Question.Tuples;
import plenzo.core.target.Question.Type;

/** A question is put with the names of before, whatever part of it has one. */
class QuestionTest {
  private static final TableName FARE = TableName.of("fares.fare");
  private static final TableName RATE = TableName.of("fares.rate");
  private static final TableName BAND = TableName.of("fares.band");

  /** From what things are called afterwards to what they are called now. */
  private static final Renaming BACK =
      new Renaming(
          Map.of(RATE, FARE), Map.of(FARE, Map.of("label", "name"), BAND, Map.of("id", "code")));

  @Test
  void columnsValuesAndKeys() {
    Tuples given = new Tuples(List.of("label"), List.of("text"), List.of(List.of("a")));
    Question q =
        Question.of(Type.DUPLICATES, RATE, "label", "zone")
            .given(given)
            .without(given)
            .renamed(BACK);

    assertThat(q.table()).isEqualTo(FARE);
    assertThat(q.columns()).containsExactly("name", "zone");
    assertThat(q.given().columns()).containsExactly("name");
    assertThat(q.without().columns()).containsExactly("name");
    assertThat(q.given().values()).isEqualTo(given.values());
  }

  @Test
  void expressions() {
    Question q =
        Question.duplicatesBy(
                RATE, new IndexKeys(List.of("lower(label)", "zone"), "(label <> 'label')", true))
            .renamed(BACK);

    assertThat(q.text()).containsExactly("(name <> 'label')", "true", "lower(name)", "zone");
  }

  /** The expression over it finds it by the name that it is asked by. */
  @Test
  void aColumnThatIsWorkedOut() {
    Conversion wide = new Conversion("upper(label)", Map.of("label", "text"));
    Question q =
        Question.of(Type.DUPLICATES, RATE, "label")
            .converting(
                new Converted(List.of("zone"), List.of(new Made("label", "varchar(9)", wide))))
            .renamed(BACK);

    assertThat(q.converted().made()).extracting(Made::column).containsExactly("name");
    assertThat(q.converted().made().get(0).from().expression()).isEqualTo("upper(name)");
  }

  @Test
  void whatItPointsAt() {
    Hop hop = new Hop(BAND, List.of("label"), List.of("id"));
    assertThat(Question.of(Type.ORPHANS, RATE, "label").along(List.of(hop)).renamed(BACK).path())
        .containsExactly(new Hop(BAND, List.of("name"), List.of("code")));
    Hop points = new Hop(RATE, List.of("label"), List.of("id"));
    assertThat(Question.of(Type.POINTING, BAND).along(List.of(points)).renamed(BACK).path())
        .containsExactly(new Hop(FARE, List.of("name"), List.of("code")));
  }

  @Test
  void nothingWhereNothingHasAnotherName() {
    Question q = Question.of(Type.NULLS, RATE, "label");
    assertThat(q.renamed(Renaming.NONE)).isSameAs(q);
    assertThat(q.renamed(new Renaming(Map.of(), Map.of(BAND, Map.of("id", "code"))))).isEqualTo(q);
  }
}
