package plenzo.engine.packaging;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.Arrays;
import org.junit.jupiter.api.Test;
import plenzo.packages.PackageRefused;

/** A file is bounded while it is received, not afterwards. */
class ReceivingTest {
  private static final int LONGEST = 200_000;

  private static final InputStream ENDLESS =
      new InputStream() {
        @Override
        public int read() {
          return 'x';
        }

        @Override
        public int read(byte[] to, int from, int length) {
          Arrays.fill(to, from, from + length, (byte) 'x');
          return length;
        }
      };

  @Test
  void refusesWhatHasNoEndAsSoonAsItIsTooLong() {
    ByteArrayOutputStream out = new ByteArrayOutputStream();

    assertThatThrownBy(() -> Packages.copy(ENDLESS, out, LONGEST, n -> {}))
        .isInstanceOf(PackageRefused.class)
        .hasMessageContaining("too long");
    assertThat(out.size()).isLessThanOrEqualTo(LONGEST);
  }

  @Test
  void takesWhatIsJustAsLongAsItMayBe() throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();

    Packages.copy(new ByteArrayInputStream(new byte[LONGEST]), out, LONGEST, n -> {});

    assertThat(out.size()).isEqualTo(LONGEST);
  }
}
