package plenzo.demo;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.GreenMailUtil;
import com.icegreen.greenmail.util.ServerSetup;
import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.util.List;
import java.util.stream.Stream;

/** The mail server of the sample world: what is sent there can be read, and goes nowhere. */
public final class Letterbox implements AutoCloseable {
  private final GreenMail server;

  public Letterbox() {
    server = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
    server.start();
  }

  public int port() {
    return server.getSmtp().getPort();
  }

  /** What arrived for an address, the oldest first: subject, a blank line, text. */
  public List<String> letters(String to) {
    return Stream.of(server.getReceivedMessages())
        .filter(m -> GreenMailUtil.getAddressList(recipients(m)).equals(to))
        .map(m -> subject(m) + "\n\n" + GreenMailUtil.getBody(m).replace("\r", ""))
        .toList();
  }

  private static jakarta.mail.Address[] recipients(MimeMessage m) {
    try {
      return m.getAllRecipients();
    } catch (MessagingException e) {
      throw new IllegalStateException("A letter without a head", e);
    }
  }

  private static String subject(MimeMessage m) {
    try {
      return m.getSubject();
    } catch (MessagingException e) {
      throw new IllegalStateException("A letter without a head", e);
    }
  }

  @Override
  public void close() {
    server.stop();
  }
}
